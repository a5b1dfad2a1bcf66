/** The ledgers' tables: order and CSV. */
import { expect, it } from "vitest";
import { cellText, csv, inOrder, nextOrder, type Column } from "./table";

interface Loop {
  tag: string;
  flow?: number;
}
const columns: Column<Loop>[] = [
  { key: "tag", head: "Loop", value: (l) => l.tag },
  { key: "flow", head: "Flow", value: (l) => l.flow, quantity: "flow", num: true },
  { key: "act", head: "" },
];
const loops: Loop[] = [{ tag: "A10", flow: 2 }, { tag: "A2" }, { tag: "A1", flow: 3.785411784 }];
const tags = (rows: Loop[]) => rows.map((l) => l.tag).join(" ");

it("sorts tags as people do, figures by size, and leaves what is missing at the end", () => {
  const [tag, flow] = columns;
  expect(tags(inOrder(loops, tag, { key: "tag", down: false }))).toBe("A1 A2 A10");
  expect(tags(inOrder(loops, flow, { key: "flow", down: false }))).toBe("A10 A1 A2");
  expect(tags(inOrder(loops, flow, { key: "flow", down: true }))).toBe("A1 A10 A2");
  expect(inOrder(loops, tag, null)).toBe(loops);
});

it("turns from up to down to as it was", () => {
  const once = nextOrder(null, "flow");
  const twice = nextOrder(once, "flow");
  expect([once, twice, nextOrder(twice, "flow"), nextOrder(twice, "tag")]).toEqual([{ key: "flow", down: false }, { key: "flow", down: true }, null, { key: "tag", down: false }]);
});

it("writes figures bare with their unit in the head, in the viewer's units", () => {
  expect(csv(columns, loops.slice(1), "us")).toBe("Loop,\"Flow, gpm\"\r\nA2,\r\nA1,1\r\n");
  expect(cellText(columns[1]!, loops[2]!, "us")).toBe("1.00 gpm");
});

it("writes words where the words say more than the figure that sorts them", () => {
  const help: Column<Loop>[] = [{ key: "help", head: "Help", value: (l) => l.flow, text: (l) => `saves ${l.flow}` }];
  expect(csv(help, loops.slice(0, 1), "us")).toBe("Help\r\nsaves 2\r\n");
});

it("quotes what has commas, and lets no name be a formula", () => {
  const rows = [{ tag: 'Hall, "big"' }, { tag: "=1+1" }, { tag: "-12" }];
  expect(csv(columns.slice(0, 1), rows, "metric")).toBe('Loop\r\n"Hall, ""big"""\r\n\'=1+1\r\n-12\r\n');
});
