//! The price list as a table: one row an article, by its code; and the order list for the wholesaler.

use super::sheet::{Heading, Row, Sheet};
use super::{Import, Imported};
use crate::csv_text::{table, word};
use fuoco_core::error::FieldError;
use fuoco_core::job::{CheckedJob, Job, MAX_PRICES, PriceRow};
use fuoco_core::materials::articles::{Article, Unit};
use fuoco_core::materials::report::MaterialsDesign;
use fuoco_core::units::Units;
use std::cell::RefCell;
use std::collections::BTreeSet;

const HEADINGS: [Heading; 5] = [("article", None), ("name", None), ("unit", None), ("price", None), ("pack", None)];
/// As the range of a row in the core.
const DEAREST: f64 = 1e6;

/// The price list with a row for every article that the job takes: those without a price have an empty cell to be filled.
pub fn write(job: &Job, materials: &MaterialsDesign) -> String {
    let rows = &job.purchasing.prices.rows;
    let us = job.site.units == Units::Us;
    let mut records = vec![HEADINGS.map(|h| h.0.to_owned()).to_vec()];
    let mut record = |code: &str, name: &str, row: Option<&PriceRow>| {
        let unit = Article::of_job(code, job).map_or(Unit::Piece, |a| a.unit);
        let (shown, per) = us_unit(unit).filter(|_| us).unwrap_or((unit.word(), 1.0));
        let figure = |v: f64| format!("{}", (v * 1e4).round() / 1e4);
        records.push(vec![
            word(code),
            word(name),
            shown.to_owned(),
            row.map(|r| figure(r.price / per)).unwrap_or_default(),
            row.and_then(|r| r.pack).map(|p| figure(p * per)).unwrap_or_default(),
        ]);
    };
    for line in &materials.lines {
        record(&line.article, &line.name, rows.iter().find(|r| r.article == line.article));
    }
    for row in rows.iter().filter(|r| !materials.lines.iter().any(|l| l.article == r.article)) {
        record(&row.article, &Article::of_job(&row.article, job).map(|a| a.name).unwrap_or_default(), Some(row));
    }
    table(records)
}

/// The unit in which an American list has what is counted in that one, and how many of it one SI unit is.
fn us_unit(unit: Unit) -> Option<(&'static str, f64)> {
    let word = match unit {
        Unit::Piece => return None,
        Unit::Metre => "ft",
        Unit::SquareMetre => "ft2",
        Unit::Litre => "gal",
    };
    Unit::of_word(word).map(|(_, per)| (word, per))
}

/// Everything that is ordered, as a table: article, name, amount, unit.
pub fn order_list(job: &Job, materials: &MaterialsDesign) -> String {
    let us = job.site.units == Units::Us;
    let mut records = vec![["article", "name", "amount", "unit"].map(str::to_owned).to_vec()];
    for line in &materials.lines {
        let (shown, per) = us_unit(line.unit).filter(|_| us).unwrap_or((line.unit.word(), 1.0));
        let amount = (line.order * per * 10.0).ceil() / 10.0;
        records.push(vec![word(&line.article), word(&line.name), format!("{amount}"), shown.to_owned()]);
    }
    table(records)
}

/// Reads prices: an article that the list has is given its new price, others are added; a row without a price changes nothing.
///
/// # Errors
/// When the table's headings do not read.
pub fn read(job: &CheckedJob, text: &str) -> Result<Imported, FieldError> {
    let sheet = Sheet::read(text, &HEADINGS, &["article", "price"], job.site.units)?;
    let rows: Vec<Row> = sheet.rows().collect();
    let mut out = Import::new(job);
    let seen = RefCell::new(BTreeSet::new());
    for row in &rows {
        if let Err(reason) = price(&mut out, row, &seen) {
            out.problem(Some(row.line), reason);
        }
    }
    out.done()
}

fn price(out: &mut Import, row: &Row, seen: &RefCell<BTreeSet<String>>) -> Result<(), String> {
    let code = row.text("article").to_owned();
    if code.is_empty() {
        return Err("names no article".into());
    }
    let article =
        Article::of_job(&code, &out.job).ok_or_else(|| format!("\"{code}\" is no article of the take-off"))?;
    if !seen.borrow_mut().insert(code.clone()) {
        return Err(format!("\"{code}\" stands in the list twice: the first price is taken"));
    }
    let word = row.text("unit");
    let per = match Unit::of_word(word) {
        None if word.is_empty() => 1.0,
        None => return Err(format!("\"{word}\" is no unit: pc, m, m2, L, ft, ft2 or gal")),
        Some((unit, _)) if unit != article.unit => {
            return Err(format!("\"{code}\" is counted in {}, not in {word}", article.unit.word()));
        }
        Some((_, per)) => per,
    };
    let Some(price) = row.within("price", 0.0, DEAREST / per)? else { return Ok(()) };
    let pack = row.within("pack", 0.001 * per, 1e5)?.map(|p| p / per);
    let new = PriceRow { article: code, price: ((price * per) * 1e6).round() / 1e6, pack };
    let rows = &mut out.job.purchasing.prices.rows;
    match rows.iter().position(|r| r.article == new.article) {
        Some(at) if rows[at] == new => {}
        Some(at) => {
            rows[at] = new;
            out.changed += 1;
        }
        None if rows.len() >= MAX_PRICES => return Err(format!("a list has at most {MAX_PRICES} articles")),
        None => {
            rows.push(new);
            out.added += 1;
        }
    }
    Ok(())
}

#[cfg(test)]
mod tests {
    use super::*;
    use fuoco_core::materials::report::materials;
    use fuoco_core::samples::{box_room, job_of, manifold};
    use fuoco_core::study::Study;

    fn job() -> CheckedJob {
        let mut job = job_of(vec![box_room("a", 0.0, 0.0, 5.0, 4.0)]);
        job.manifolds.push(manifold("m", "A", "a", 0, 2.5));
        CheckedJob::new(job).expect("sound")
    }

    fn prices(job: &CheckedJob) -> Vec<(String, f64, Option<f64>)> {
        job.purchasing.prices.rows.iter().map(|r| (r.article.clone(), r.price, r.pack)).collect()
    }

    #[test]
    fn a_list_reads_in_either_units_and_names_what_does_not() {
        let text = "article,name,unit,price,pack\n\
                    staple,Staple,pc,0.05,300\n\
                    edge-strip,,ft,0.30,\n\
                    gold,,pc,9,\n\
                    staple,again,pc,0.06,\n\
                    tie,,kg,1,\n\
                    clip,,m,1,\n\
                    actuator,,pc,-4,\n\
                    label,,pc,,\n\
                    cabinet,,pc,dear,\n";
        let read = read(&job(), text).expect("headings read");
        assert_eq!((read.added, read.changed), (2, 0));
        let rows = prices(&read.job);
        assert_eq!(rows[0], ("staple".into(), 0.05, Some(300.0)));
        // 0.30 a foot is 0.984 a metre
        assert!((rows[1].1 - 0.30 / 0.3048).abs() < 1e-5, "{rows:?}");
        let told: Vec<(usize, &str)> =
            read.problems.iter().map(|p| (p.line.expect("a line"), p.reason.as_str())).collect();
        let lines: Vec<usize> = told.iter().map(|t| t.0).collect();
        assert_eq!(lines, [4, 5, 6, 7, 8, 10], "{told:?}");
        for (line, word) in
            told.iter().zip(["no article", "twice", "no unit", "counted in pc", "between 0", "no number"])
        {
            assert!(line.1.contains(word), "{line:?}");
        }
    }

    /// The invented list that ships has a price for everything the demo takes, and nothing in it is unknown.
    #[test]
    fn the_list_that_ships_reads_whole() {
        let demo = CheckedJob::from_json(include_str!("../../../../demo/tamarack-dance-school.json")).expect("sound");
        let read = read(&demo, include_str!("../../../../demo/prices.csv")).expect("reads");
        assert!(read.problems.is_empty(), "{:?}", read.problems);
        assert!(read.job.purchasing.prices.rows.len() > 150);
        let of = materials(&Study::of(&read.job).expect("designed"));
        assert_eq!(of.missing_prices, 0);
        assert!(of.coils.iter().all(|c| c.price.is_some() && c.optimal));
    }

    #[test]
    fn what_is_written_reads_back_in_both_unit_systems() {
        for units in [Units::Metric, Units::Us] {
            let mut of = Job::clone(&job());
            of.site.units = units;
            let row = |article: &str, price, pack| PriceRow { article: article.into(), price, pack };
            of.purchasing.prices.rows = vec![row("staple", 0.05, Some(300.0)), row("edge-strip", 0.98, Some(25.0))];
            let of = CheckedJob::new(of).expect("sound");
            let text = write(&of, &materials(&Study::of(&of).expect("designed")));
            // every article of the take-off has a row; those without a price an empty cell
            assert!(text.contains("actuator,Actuator,pc,,"), "{text}");
            let back = read(&of, &text).expect("reads");
            assert!(back.problems.is_empty(), "{:?}", back.problems);
            for (a, b) in prices(&of).iter().zip(prices(&back.job)) {
                // four digits are written
                assert!(
                    a.0 == b.0 && (a.1 - b.1).abs() < 5e-4 && (a.2.unwrap() - b.2.unwrap()).abs() < 1e-3,
                    "{a:?} {b:?}"
                );
            }
        }
    }

    #[test]
    fn five_thousand_rows_are_read_and_the_rest_counted() {
        let mut text = String::from("article,price\nstaple,0.05\n");
        for i in 0..4999 {
            text.push_str(&format!("thing-{i},1\n"));
        }
        let read_back = read(&job(), &text).expect("reads");
        assert_eq!(
            (read_back.added, read_back.problems.len()),
            (1, 51),
            "fifty are named, one line says there are more"
        );
        text.push_str("tie,1\n");
        assert!(read(&job(), &text).is_err_and(|e| e.reason.contains("5000")));
    }

    #[test]
    fn the_order_list_has_whole_pieces_and_coil_lengths() {
        let of = job();
        let text = order_list(&of, &materials(&Study::of(&of).expect("designed")));
        assert!(text.lines().any(|l| l.starts_with("coil/") && l.ends_with(",pc")), "{text}");
        for line in text.lines().skip(1).filter(|l| l.ends_with(",pc")) {
            let amount: f64 = line.rsplit(',').nth(1).and_then(|a| a.parse().ok()).expect("an amount");
            assert_eq!(amount.fract(), 0.0, "{line}");
        }
    }
}
