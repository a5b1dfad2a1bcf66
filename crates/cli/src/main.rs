//! tmp
fn main(){ let t=std::fs::read_to_string(std::env::args().nth(1).unwrap()).unwrap(); let j=fuoco_core::job::Job::from_json(&t).unwrap(); let s=std::time::Instant::now(); let d=fuoco_core::design::design(&j).unwrap(); eprintln!("{:?}",s.elapsed()); println!("{}",serde_json::to_string(&d).unwrap()); }
