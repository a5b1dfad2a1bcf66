//! How often somebody may try a password: after some wrong ones they wait, each time twice as long.

use std::collections::HashMap;
use std::net::IpAddr;
use std::sync::{Mutex, PoisonError};
use std::time::{Duration, Instant};

/// Wrong tries without waiting: of one name from one address, of one address, of one name from anywhere. Who guesses at one name from
/// many addresses is slowed; whoever owns the name and signs in from where they always do is not locked out by the first few.
const FREE: [u32; 3] = [5, 20, 50];
/// Longest wait.
const LONGEST: Duration = Duration::from_secs(15 * 60);
/// Wrong tries are forgotten after so long.
const FORGOTTEN: Duration = Duration::from_secs(24 * 3600);
/// More than this are not remembered: the oldest are forgotten first.
const MOST: usize = 20_000;

#[derive(Debug, Clone, Copy)]
struct Tries {
    wrong: u32,
    last: Instant,
}

/// The wrong tries so far.
#[derive(Debug, Default)]
pub(crate) struct Patience {
    tries: Mutex<HashMap<String, Tries>>,
}

/// Under what tries are counted, each with how many are free. Links have no name: nobody can use up another's tries.
fn keys(name: Option<&str>, from: Option<IpAddr>) -> Vec<(String, u32)> {
    let from = from.map_or_else(String::new, |ip| ip.to_string());
    let name = name.map(|n| n.trim().to_lowercase().chars().take(60).collect::<String>());
    let mut out = vec![(format!("from {from}"), FREE[1])];
    if let Some(name) = name {
        out.push((format!("both {from} {name}"), FREE[0]));
        out.push((format!("name {name}"), FREE[2]));
    }
    out
}

fn wait(wrong: u32, free: u32) -> Duration {
    if wrong < free {
        return Duration::ZERO;
    }
    Duration::from_secs(1u64 << (wrong - free).min(20)).min(LONGEST)
}

impl Patience {
    /// How long that one still has to wait before another try; zero: not at all.
    pub fn wait(&self, name: Option<&str>, from: Option<IpAddr>, now: Instant) -> Duration {
        let tries = self.tries.lock().unwrap_or_else(PoisonError::into_inner);
        let left = |(key, free): (String, u32)| {
            let of = tries.get(&key)?;
            Some(wait(of.wrong, free).saturating_sub(now.saturating_duration_since(of.last)))
        };
        keys(name, from).into_iter().filter_map(left).max().unwrap_or_default()
    }

    /// That one was wrong.
    pub fn wrong(&self, name: Option<&str>, from: Option<IpAddr>, now: Instant) {
        let mut tries = self.tries.lock().unwrap_or_else(PoisonError::into_inner);
        tries.retain(|_, t| now.saturating_duration_since(t.last) < FORGOTTEN);
        for (key, _) in keys(name, from) {
            if tries.len() >= MOST && !tries.contains_key(&key) {
                let oldest = tries.iter().min_by_key(|(_, t)| t.last).map(|(k, _)| k.clone());
                oldest.and_then(|k| tries.remove(&k));
            }
            let of = tries.entry(key).or_insert(Tries { wrong: 0, last: now });
            of.wrong = of.wrong.saturating_add(1);
            of.last = now;
        }
    }

    /// That one was right, though it was counted as wrong before that was known: their own wrong tries are forgotten, and those of
    /// others at their address stay.
    pub fn right(&self, name: &str, from: Option<IpAddr>) {
        let mut tries = self.tries.lock().unwrap_or_else(PoisonError::into_inner);
        for (i, (key, _)) in keys(Some(name), from).into_iter().enumerate() {
            let Some(of) = tries.get_mut(&key) else { continue };
            of.wrong = if i == 0 { of.wrong.saturating_sub(1) } else { 0 };
            if of.wrong == 0 {
                tries.remove(&key);
            }
        }
    }
}

#[cfg(test)]
mod tests {
    use super::*;

    const HOME: Option<IpAddr> = Some(IpAddr::V4(std::net::Ipv4Addr::new(10, 0, 0, 7)));
    const ELSEWHERE: Option<IpAddr> = Some(IpAddr::V4(std::net::Ipv4Addr::new(10, 0, 0, 8)));

    #[test]
    fn after_five_wrong_tries_each_takes_twice_as_long() {
        let patience = Patience::default();
        let now = Instant::now();
        let mut waits = vec![];
        for _ in 0..8 {
            patience.wrong(Some("Ada"), HOME, now);
            waits.push(patience.wait(Some("ada "), HOME, now).as_secs());
        }
        assert_eq!(waits, [0, 0, 0, 0, 1, 2, 4, 8]);
        assert_eq!(patience.wait(Some("Ada"), HOME, now + Duration::from_secs(5)).as_secs(), 3);
        // from elsewhere Ada herself is not kept out, and neither is Ben at home
        assert_eq!(patience.wait(Some("Ada"), ELSEWHERE, now), Duration::ZERO);
        assert_eq!(patience.wait(Some("Ben"), HOME, now), Duration::ZERO);
        patience.right("Ada", HOME);
        assert_eq!(patience.wait(Some("Ada"), HOME, now), Duration::ZERO);
        for _ in 0..60 {
            patience.wrong(Some("Ada"), HOME, now);
        }
        assert_eq!(patience.wait(Some("Ada"), HOME, now), LONGEST);
        assert_eq!(patience.wait(Some("Ada"), HOME, now + FORGOTTEN), Duration::ZERO);
    }

    #[test]
    fn one_address_that_tries_many_names_waits_too() {
        let patience = Patience::default();
        let now = Instant::now();
        for k in 0..30 {
            patience.wrong(Some(&format!("name {k}")), HOME, now);
        }
        assert!(patience.wait(Some("somebody else"), HOME, now) > Duration::from_secs(60));
        assert_eq!(patience.wait(Some("somebody else"), ELSEWHERE, now), Duration::ZERO);
    }

    #[test]
    fn a_whole_office_signs_in_at_one_address_and_wrong_links_use_up_nobodys_tries() {
        let patience = Patience::default();
        let now = Instant::now();
        for k in 0..100 {
            let name = format!("person {k}");
            patience.wrong(Some(&name), HOME, now);
            patience.right(&name, HOME);
        }
        assert_eq!(patience.wait(Some("Ada"), HOME, now), Duration::ZERO);
        for _ in 0..19 {
            patience.wrong(None, ELSEWHERE, now);
        }
        assert_eq!(patience.wait(None, ELSEWHERE, now), Duration::ZERO);
        patience.wrong(None, ELSEWHERE, now);
        assert!(patience.wait(None, ELSEWHERE, now) > Duration::ZERO);
        assert_eq!(patience.wait(None, HOME, now), Duration::ZERO);
        assert_eq!(patience.wait(Some("Ada"), HOME, now), Duration::ZERO);
    }

    #[test]
    fn no_more_is_remembered_than_fits() {
        let patience = Patience::default();
        let now = Instant::now();
        for k in 0..MOST {
            let ip = IpAddr::V4(std::net::Ipv4Addr::from(k as u32));
            patience.wrong(Some("Ada"), Some(ip), now);
            if k > 200 && patience.tries.lock().expect("whole").len() == MOST {
                return assert!(patience.wait(Some("Ada"), HOME, now) > Duration::ZERO);
            }
        }
        assert!(patience.tries.lock().expect("whole").len() <= MOST);
    }
}
