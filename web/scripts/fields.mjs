/**
 * Writes what the job's schema says of every figure (range, quantity, meaning, what a missing one stands for) in the short
 * form that the fields of the screen read: `node scripts/fields.mjs openapi.json src/api/fields.generated.json`.
 */
import { readFileSync, writeFileSync } from "node:fs";

const [from, to] = process.argv.slice(2);
const { schemas } = JSON.parse(readFileSync(from, "utf8")).components;
const typeOf = (ref) => ref.split("/").at(-1);

/** The unit is the viewer's, not the schema's. */
const meaning = (text = "") =>
  text
    .replace(/\s+/g, " ")
    .replace(/(, |^)(m²K\/W|W\/m²K|W\/m²|W\/mK|L\/min|m³\/h|kg\/m³|m\/s|m²|m|mm|W|K|Pa|°C|°)(?=[.;]|$)/g, "")
    .replace(/\.$/, "")
    .trim();

/** What stands at a property: a figure, or things of another type. */
function entry(property, says = property.description) {
  const at = property.oneOf?.find((o) => o.$ref) ?? property;
  if (at.$ref) return { of: typeOf(at.$ref) };
  const inner = property.items ?? (typeof property.additionalProperties === "object" ? property.additionalProperties : null);
  // figures by a key: the rest of a path is the key
  if (inner && property.additionalProperties) return { ...entry({ ...inner, ...property, additionalProperties: undefined }, says), keyed: true };
  if (inner && property["x-quantity"] === undefined) return entry(inner, says);
  const figure = property["x-quantity"] ? property : null;
  if (!figure) return null;
  const range = figure.minimum === undefined && inner ? inner : figure;
  const types = [figure.type, inner?.type].flat();
  return {
    quantity: figure["x-quantity"],
    least: range.minimum,
    most: range.maximum,
    says: meaning(says),
    ...(types.includes("integer") && { whole: true }),
    ...(typeof figure.default === "number" && { usual: figure.default }),
    ...(types.includes("null") && { open: true }),
  };
}

const fields = {};
(function read(name) {
  if (fields[name] || !schemas[name]) return;
  const schema = schemas[name];
  const all = [schema, ...(schema.oneOf ?? []), ...(schema.allOf ?? [])].flatMap((s) => Object.entries(s.properties ?? {}));
  const found = all.map(([field, property]) => [field, entry(property)]).filter(([, e]) => e);
  fields[name] = Object.fromEntries(found);
  for (const [, e] of found) if (e.of) read(e.of);
})("Job");
// types without figures lead nowhere
for (let gone = 1; gone; ) {
  gone = 0;
  for (const [name, of] of Object.entries(fields)) {
    for (const [field, e] of Object.entries(of)) if (e.of && !(e.of in fields)) delete of[field];
    if (Object.keys(of).length === 0) gone += Number(delete fields[name]);
  }
}
writeFileSync(to, `${JSON.stringify(fields, null, 1)}\n`);
