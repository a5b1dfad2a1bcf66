//! The front end is embedded from `web/dist`: the folder must be there before it is built, and a new build of it
//! must reach the program.

fn main() {
    let dist = concat!(env!("CARGO_MANIFEST_DIR"), "/../../web/dist");
    if let Err(e) = std::fs::create_dir_all(dist) {
        println!("cargo:warning=web/dist cannot be made: {e}");
    }
    println!("cargo:rerun-if-changed={dist}");
}
