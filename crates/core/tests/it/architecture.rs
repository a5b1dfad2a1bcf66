//! The graph of the crate's modules, read from its sources: which module imports from which. It has no circles, imports run
//! from the foundations upward only, and `docs/modules.svg` is a picture of it.
//!
//! A module is a file; the files of an engine (layout, section, network, coils, pressure_test) count as one module. Tests inside files are left out.

use std::collections::{BTreeMap, BTreeSet};
use std::fmt::Write;
use std::fs;
use std::path::{Path, PathBuf};
use syn::visit::Visit;

/// The layers from below upward; a module imports from its own layer or from lower ones. Of modules in no row the
/// longest prefix counts.
const LAYERS: [(&str, &[&str]); 10] = [
    ("foundations", &["error", "figures", "units", "geometry", "ranges", "check", "watch"]),
    (
        "parts and physics",
        &[
            "chapters::*::part",
            "chapters::survey::site",
            "chapters::survey::climate",
            "chapters::heat_loss::construction",
            "chapters::heat_loss::ground",
            "chapters::heat_loss::air",
            "chapters::plant::usual",
            "job::rules",
            "pressure_test",
            "readings",
            "records",
            "fluid",
            "flow",
            "section",
            "snow",
            "moist_air",
            "zone",
            "chapters::survey::hours",
            "network",
            "coils",
        ],
    ),
    ("the job", &["library", "job"]),
    ("the plan", &["plan", "chapters::*::check", "chapters::floor::assembly"]),
    ("what is solved", &["layout", "chapters", "chapters::outdoors::load"]),
    ("the job solved", &["study::solved", "study::room", "study::totals", "chapters::water::report"]),
    (
        "tried on the network",
        &[
            "chapters::plant",
            "chapters::outdoors",
            "chapters::cooling",
            "chapters::cooling::sun",
            "chapters::water::pipework",
            "chapters::water::rooms",
            "chapters::water::trial",
        ],
    ),
    ("the study", &["study", "findings"]),
    (
        "rules, pictures, maps",
        &[
            "chapters::*::findings",
            "chapters::floor::picture",
            "chapters::floor::compare",
            "chapters::loops::map",
            "thermal",
            "chapters::materials",
        ],
    ),
    (
        "the whole",
        &["onsite", "service", "dynamics", "startup", "stand_in", "rig", "design", "chapters::mod", "chapters::*::mod"],
    ),
];

type Graph = BTreeMap<String, BTreeSet<String>>;

fn source() -> PathBuf {
    Path::new(env!("CARGO_MANIFEST_DIR")).join("src")
}

fn files(folder: &Path, out: &mut Vec<PathBuf>) {
    let entries = fs::read_dir(folder).expect("a folder").map(|e| e.expect("an entry").path());
    for path in entries {
        if path.is_dir() {
            files(&path, out);
        } else if path.extension().is_some_and(|e| e == "rs") {
            out.push(path);
        }
    }
}

/// The path of a file's module: `plan::walls`, and `plan::mod` for the file that makes a folder a module.
fn path_of(file: &Path) -> Vec<String> {
    let relative = file.strip_prefix(source()).expect("within the sources").with_extension("");
    relative.iter().map(|part| part.to_string_lossy().into_owned()).collect()
}

/// Engines count as one module each.
fn module(path: &[String]) -> String {
    match path[0].as_str() {
        engine @ ("layout" | "section" | "network" | "coils" | "pressure_test" | "thermal") => engine.to_owned(),
        _ => path.join("::"),
    }
}

/// All paths that a file names, as lists of their parts.
#[derive(Default)]
struct Paths(Vec<Vec<String>>);

fn use_tree(tree: &syn::UseTree, before: &[String], out: &mut Vec<Vec<String>>) {
    let with = |name: &syn::Ident| [before, &[name.to_string()]].concat();
    match tree {
        syn::UseTree::Path(p) => use_tree(&p.tree, &with(&p.ident), out),
        syn::UseTree::Name(n) => out.push(with(&n.ident)),
        syn::UseTree::Rename(r) => out.push(with(&r.ident)),
        syn::UseTree::Glob(_) => out.push(before.to_vec()),
        syn::UseTree::Group(g) => g.items.iter().for_each(|t| use_tree(t, before, out)),
    }
}

fn is_test(attributes: &[syn::Attribute]) -> bool {
    attributes.iter().any(|a| a.path().is_ident("cfg") && quote_of(a).contains("test"))
}

fn quote_of(attribute: &syn::Attribute) -> String {
    attribute.meta.require_list().map(|l| l.tokens.to_string()).unwrap_or_default()
}

impl<'ast> Visit<'ast> for Paths {
    fn visit_item_mod(&mut self, item: &'ast syn::ItemMod) {
        if !is_test(&item.attrs) {
            syn::visit::visit_item_mod(self, item);
        }
    }

    fn visit_item_use(&mut self, item: &'ast syn::ItemUse) {
        // what is passed on to the outside is not used here
        if matches!(item.vis, syn::Visibility::Inherited) {
            use_tree(&item.tree, &[], &mut self.0);
        }
    }

    /// `pub(super)` imports nothing.
    fn visit_visibility(&mut self, _: &'ast syn::Visibility) {}

    fn visit_path(&mut self, path: &'ast syn::Path) {
        self.0.push(path.segments.iter().map(|s| s.ident.to_string()).collect());
        syn::visit::visit_path(self, path);
    }
}

/// Re-exports of the root: `crate::floor` is `crate::chapters::floor`.
const CHAPTERS: [&str; 7] = ["survey", "heat_loss", "floor", "loops", "water", "plant", "materials"];

/// The module that a path within the crate leads to, from a file of the path `own`.
fn resolved(path: &[String], own: &[String], known: &BTreeSet<Vec<String>>) -> Option<String> {
    let mut at: Vec<String> = match path.first().map(String::as_str) {
        Some("crate") => path[1..].to_vec(),
        Some("super" | "self") => {
            let ups = path.iter().take_while(|p| *p == "super").count();
            let mut folder = own.to_vec();
            if folder.last().is_some_and(|l| l == "mod") {
                folder.pop();
            }
            folder.truncate(folder.len().saturating_sub(ups));
            [folder, path[ups.max(1)..].to_vec()].concat()
        }
        _ => return None,
    };
    if at.first().is_some_and(|f| CHAPTERS.contains(&f.as_str())) {
        at.insert(0, "chapters".into());
    }
    // the longest part of it that is a file
    while !at.is_empty() {
        if known.contains(&at) {
            return Some(module(&at));
        }
        let folder = [at.clone(), vec!["mod".into()]].concat();
        if known.contains(&folder) {
            return Some(module(&folder));
        }
        at.pop();
    }
    None
}

fn graph() -> Graph {
    let mut all = Vec::new();
    files(&source(), &mut all);
    all.retain(|f| !f.ends_with("lib.rs") && !f.starts_with(source().join("samples")));
    let known: BTreeSet<Vec<String>> = all.iter().map(|f| path_of(f)).collect();
    let mut graph = Graph::new();
    for file in &all {
        let own = path_of(file);
        let text = fs::read_to_string(file).expect("reads");
        let mut paths = Paths::default();
        paths.visit_file(&syn::parse_file(&text).unwrap_or_else(|e| panic!("{}: {e}", file.display())));
        let from = module(&own);
        let to = paths.0.iter().filter_map(|p| resolved(p, &own, &known)).filter(|to| *to != from);
        graph.entry(from.clone()).or_default().extend(to);
    }
    graph
}

/// Modules that lead back to themselves, with the way.
fn circle(graph: &Graph) -> Option<Vec<String>> {
    fn walk(at: &str, graph: &Graph, way: &mut Vec<String>, done: &mut BTreeSet<String>) -> bool {
        if let Some(k) = way.iter().position(|w| w == at) {
            way.drain(..k);
            return true;
        }
        if !done.insert(at.to_owned()) {
            return false;
        }
        way.push(at.to_owned());
        if graph.get(at).into_iter().flatten().any(|next| walk(next, graph, way, done)) {
            return true;
        }
        way.pop();
        false
    }
    let mut done = BTreeSet::new();
    graph.keys().find_map(|start| {
        let mut way = Vec::new();
        walk(start, graph, &mut way, &mut done).then_some(way)
    })
}

fn matches(pattern: &str, module: &str) -> bool {
    let (p, m): (Vec<&str>, Vec<&str>) = (pattern.split("::").collect(), module.split("::").collect());
    p.len() <= m.len() && p.iter().zip(&m).all(|(p, m)| *p == "*" || p == m)
}

fn layer(module: &str) -> usize {
    let rows = LAYERS.iter().enumerate().flat_map(|(i, (_, patterns))| patterns.iter().map(move |p| (i, *p)));
    let best = rows.filter(|(_, p)| matches(p, module)).max_by_key(|(_, p)| {
        // a named part weighs more than a star
        p.split("::").map(|part| if part == "*" { 1 } else { 2 }).sum::<usize>()
    });
    best.unwrap_or_else(|| panic!("{module} stands in no layer")).0
}

/// Names of the types that stand in the API's schema, of one crate.
fn schema_types(folder: &Path) -> Vec<String> {
    let mut sources = vec![];
    files(folder, &mut sources);
    let named = |attributes: &[syn::Attribute], ident: &syn::Ident| {
        attributes.iter().any(|a| quote_of(a).contains("ToSchema")).then(|| ident.to_string())
    };
    let of_item = |item: &syn::Item| match item {
        syn::Item::Struct(i) => named(&i.attrs, &i.ident),
        syn::Item::Enum(i) => named(&i.attrs, &i.ident),
        _ => None,
    };
    sources
        .iter()
        .map(|file| syn::parse_file(&fs::read_to_string(file).expect("reads")).expect("parses"))
        .flat_map(|file| file.items.iter().filter_map(of_item).collect::<Vec<_>>())
        .collect()
}

/// The schema knows a type by its name alone: of two that share it one would silently stand for both.
#[test]
fn every_type_of_the_schema_has_a_name_of_its_own() {
    let server = Path::new(env!("CARGO_MANIFEST_DIR")).join("../server/src");
    let mut all = [schema_types(&source()), schema_types(&server)].concat();
    assert!(all.len() > 200, "{} types were found", all.len());
    all.sort();
    let twice: Vec<&[String]> = all.windows(2).filter(|w| w[0] == w[1]).collect();
    assert!(twice.is_empty(), "{twice:?}");
}

#[test]
fn no_module_leads_back_to_itself() {
    assert_eq!(circle(&graph()), None);
}

#[test]
fn imports_run_upward_only() {
    let wrong: Vec<String> = graph()
        .iter()
        .flat_map(|(from, to)| to.iter().map(move |to| (from, to)))
        .filter(|(from, to)| layer(to) > layer(from))
        .map(|(from, to)| format!("{from} ({}) imports from {to} ({})", LAYERS[layer(from)].0, LAYERS[layer(to)].0))
        .collect();
    assert!(wrong.is_empty(), "{}", wrong.join("\n"));
}

#[test]
fn a_circle_would_be_found() {
    let graph: Graph = [("a", "b"), ("b", "c"), ("c", "b")]
        .map(|(from, to)| (from.to_owned(), BTreeSet::from([to.to_owned()])))
        .into();
    assert_eq!(circle(&graph), Some(vec!["b".to_owned(), "c".to_owned()]));
    let known = [vec!["plan", "mod"], vec!["plan", "walls"], vec!["chapters", "floor", "part"]];
    let known: BTreeSet<Vec<String>> = known.map(|p| p.into_iter().map(String::from).collect()).into();
    let of = |path: &str| {
        let path: Vec<String> = path.split("::").map(String::from).collect();
        resolved(&path, &["plan".into(), "walls".into()], &known)
    };
    assert_eq!(of("super::Plan").as_deref(), Some("plan::mod"));
    assert_eq!(of("crate::floor::part::Floor").as_deref(), Some("chapters::floor::part"));
    assert_eq!(of("std::fmt"), None);
}

/// Folders as boxes in rows by layer, arrows from each to what it imports from.
fn picture(graph: &Graph) -> String {
    let group = |m: &str| {
        let parts: Vec<&str> = m.split("::").collect();
        match parts[0] {
            "chapters" if parts.len() > 2 => parts[1..].join("/"),
            first => first.to_owned(),
        }
    };
    let mut rows: BTreeMap<usize, BTreeSet<String>> = BTreeMap::new();
    let mut of: BTreeMap<String, usize> = BTreeMap::new();
    for m in graph.keys() {
        of.entry(group(m)).and_modify(|r| *r = (*r).max(layer(m))).or_insert_with(|| layer(m));
    }
    for (g, row) in &of {
        rows.entry(*row).or_default().insert(g.clone());
    }
    let edges: BTreeSet<(String, String)> = graph
        .iter()
        .flat_map(|(from, to)| to.iter().map(move |to| (group(from), group(to))))
        .filter(|(a, b)| a != b && of[a] != of[b])
        .collect();
    let (wide, high, gap) = (134.0, 22.0, 10.0);
    let per_row = 8;
    let mut places: BTreeMap<String, (f64, f64)> = BTreeMap::new();
    let mut boxes = String::new();
    let mut y = 20.0;
    for (row, groups) in rows.iter().rev() {
        let _ = writeln!(boxes, r#"<text x="10" y="{:.0}" class="layer">{}</text>"#, y + 15.0, LAYERS[*row].0);
        for (k, g) in groups.iter().enumerate() {
            let (x, top) = (150.0 + (k % per_row) as f64 * (wide + gap), y + (k / per_row) as f64 * (high + gap));
            places.insert(g.clone(), (x + wide / 2.0, top));
            let _ = writeln!(
                boxes,
                r#"<rect x="{x:.0}" y="{top:.0}" width="{wide}" height="{high}"/><text x="{:.0}" y="{:.0}">{g}</text>"#,
                x + 5.0,
                top + 15.0
            );
        }
        y += groups.len().div_ceil(per_row) as f64 * (high + gap) + 34.0;
    }
    let mut lines = String::new();
    for (from, to) in &edges {
        let ((x0, y0), (x1, y1)) = (places[from], places[to]);
        let (y0, y1) = if y1 > y0 { (y0 + high, y1) } else { (y0, y1 + high) };
        let _ = writeln!(
            lines,
            r#"<path d="M{x0:.0} {y0:.0}C{x0:.0} {:.0} {x1:.0} {:.0} {x1:.0} {y1:.0}"/>"#,
            y0 + 20.0,
            y1 - 20.0
        );
    }
    let width = 150.0 + per_row as f64 * (wide + gap) + 10.0;
    format!(
        "<svg xmlns=\"http://www.w3.org/2000/svg\" viewBox=\"0 0 {width:.0} {y:.0}\" font-family=\"sans-serif\" font-size=\"11\">\n\
         <style>rect{{fill:#fffdf8;stroke:#57493a}}path{{fill:none;stroke:#b5502a;stroke-opacity:.28}}.layer{{font-weight:bold}}</style>\n\
         <rect width=\"{width:.0}\" height=\"{y:.0}\" style=\"stroke:none;fill:#f6f1e7\"/>\n{lines}{boxes}</svg>\n"
    )
}

/// The picture in the docs is that of the code; `FUOCO_RENEW=1` writes it anew.
#[test]
fn the_picture_in_the_docs_is_current() {
    let file = Path::new(env!("CARGO_MANIFEST_DIR")).join("../../docs/modules.svg");
    let now = picture(&graph());
    if std::env::var_os("FUOCO_RENEW").is_some() {
        fs::write(&file, &now).expect("writes");
    }
    let committed = fs::read_to_string(&file).unwrap_or_default();
    assert!(
        committed == now,
        "docs/modules.svg is stale: FUOCO_RENEW=1 cargo test -p fuoco-core --test it architecture"
    );
}
