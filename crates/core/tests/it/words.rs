//! One word for one thing: words that the trade does not use for it stand in no screen, finding, paper or page of the docs.

use std::fs;
use std::path::{Path, PathBuf};

/// What is not said, and what is said instead. Written so that names in the code are none of them.
const NOT_SAID: [(&str, &str); 31] = [
    ("reckon", "calculate"),
    ("stand up", "OK, or what is wrong"),
    ("stands up", "OK"),
    ("wants a look", "warning"),
    ("not begun", "not started"),
    ("carries the room", "meets the load"),
    ("carry the room", "meet the load"),
    ("w are missing", "short by"),
    ("may give<", "maximum output"),
    ("supply it stands", "maximum supply temperature"),
    ("hardest room", "governing room"),
    ("worst loop:", "index loop"),
    ("edge band", "perimeter zone"),
    ("wanted temperature", "design temperature"),
    ("flat rate", "rule of thumb"),
    ("sheet on the tube", "heat-transfer plate"),
    ("stripes", "surface ripple"),
    ("kept loop", "locked loop"),
    ("lay anew", "re-route"),
    ("what it is made of", "construction"),
    ("as warm as here", "heated to the same temperature"),
    ("sanitary ware", "plumbing fixture"),
    (">let go<", "deselect"),
    ("another name<", "rename"),
    ("beware", "caution"),
    (">has it<", "current"),
    ("lay it anew", "re-route"),
    ("let it go", "discard"),
    ("what shall", "what do you want"),
    ("valve takes", "balancing valve closes"),
    ("prevail", "Follow local code and the manufacturer's instructions"),
];

fn files(folder: &Path, out: &mut Vec<PathBuf>) {
    for entry in fs::read_dir(folder).expect("a folder") {
        let path = entry.expect("an entry").path();
        let name = path.file_name().map(|n| n.to_string_lossy().into_owned()).unwrap_or_default();
        if path.is_dir() {
            if !["node_modules", "dist", "target"].contains(&name.as_str()) {
                files(&path, out);
            }
        } else if ["vue", "ts", "rs", "md", "json"].iter().any(|e| path.extension().is_some_and(|x| x == *e))
            && !name.contains("generated")
        {
            out.push(path);
        }
    }
}

#[test]
fn one_word_for_one_thing() {
    let root = Path::new(env!("CARGO_MANIFEST_DIR")).join("../..");
    let mut all = vec![root.join("README.md")];
    for folder in
        ["web/src", "docs", "demo", "crates/core/src", "crates/documents/src", "crates/server/src", "crates/cli/src"]
    {
        files(&root.join(folder), &mut all);
    }
    assert!(all.len() > 150, "{} files", all.len());
    let mut wrong = Vec::new();
    for file in &all {
        let text = fs::read_to_string(file).expect("readable");
        for (i, line) in text.lines().enumerate() {
            let low = line.to_lowercase();
            for (said, better) in NOT_SAID.iter().filter(|(said, _)| low.contains(said)) {
                wrong.push(format!("{}:{}: \"{said}\", say \"{better}\"", file.display(), i + 1));
            }
        }
    }
    assert!(wrong.is_empty(), "\n{}", wrong.join("\n"));
}
