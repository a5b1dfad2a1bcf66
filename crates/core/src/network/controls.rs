//! What turns and runs by temperatures: mixing valves toward their setpoints, pumps toward their difference. One step each; the
//! passes of `solve` go on until none of them moves.

use super::flows::Law;
use super::heat;
use super::solve::Solver;

/// A mixer is settled within, K.
const MIXED_K: f64 = 0.005;
/// A mixing valve goes this far, as logarithm of the ratio of its openings.
pub(super) const MIXER_ENDS: f64 = 14.0;
/// Where flows have changed a mixing valve is looked for within this of its turn.
const TURN_NEAR: f64 = 2.0;
/// A difference is kept to this share of it: 0.01 K of 10 K, about as near as mixed water is to its setpoint.
const KEPT_SHARE: f64 = 1e-3;
/// A control by differences goes at least this share of its way.
const GAIN_LEAST: f64 = 0.1;

/// A mixing valve while it is looked for.
pub(super) struct MixerState {
    pub link: usize,
    pub hot_way: usize,
    pub cold_way: usize,
    pub setpoint_c: f64,
    pub kv: f64,
    /// Logarithm of hot over cold opening.
    pub x: f64,
    /// The turn before and by how much its water was too warm, K.
    pub last: Option<(f64, f64)>,
    pub turns: u32,
    /// How far it was from its setpoint five turns ago, K.
    pub far: f64,
    /// The turn lies between these.
    pub between: [f64; 2],
}

/// A pump that keeps a difference of temperatures.
pub(super) struct DifferenceState {
    pub way: usize,
    pub difference_k: f64,
    pub between: [usize; 2],
    /// Flow asked for last, m³/s.
    pub asked: f64,
    /// Logarithm of the difference there was over the wanted one.
    pub over: f64,
    /// Share of the way that it goes.
    pub gain: f64,
}

impl Solver<'_> {
    /// Turns mixing valves toward their setpoints; a way of one that has farther to go.
    pub(super) fn mix(&mut self, now: &heat::Temperatures) -> Option<usize> {
        let mut moves = None;
        for m in &mut self.mixers {
            let (hot, cold) = (now.nodes[self.ways[m.hot_way].from], now.nodes[self.ways[m.cold_way].from]);
            let (Some(hot), Some(cold)) = (hot, cold) else { continue };
            let (q_hot, q_cold) = (self.q[m.hot_way], self.q[m.cold_way]);
            let whole = q_hot + q_cold;
            if whole <= 0.0 {
                continue;
            }
            let wanted = if hot > cold { ((m.setpoint_c - cold) / (hot - cold)).clamp(0.0, 1.0) } else { 1.0 };
            let share = (q_hot / whole).clamp(0.0, 1.0);
            if (share - wanted).abs() * (hot - cold).abs() < MIXED_K {
                continue;
            }
            let log_odds = |v: f64| {
                let v = v.clamp(1e-6, 1.0 - 1e-6);
                (v / (1.0 - v)).ln()
            };
            // warmer than it should be, K: it grows with the turn, and so does the water that comes back
            let over = (share - wanted) * (hot - cold).abs();
            let slope = m.last.and_then(|(x, was)| {
                let slope = (over - was) / (m.x - x);
                (slope.is_finite() && slope > 1e-6).then_some(slope)
            });
            m.last = Some((m.x, over));
            m.turns += 1;
            // too little hot water: farther open; where the legs press unevenly a small turn does much, so that the turn is
            // kept between one that was too little and one that was too much
            m.between[usize::from(over > 0.0)] = m.x;
            let [low, high] = m.between;
            if high - low < 1e-6 {
                // the temperatures have moved since: look wider again
                m.between = [(low - TURN_NEAR).max(-MIXER_ENDS), (high + TURN_NEAR).min(MIXER_ENDS)];
            }
            let [low, high] = m.between;
            // the first turn as if the water that comes back stayed as warm
            let aimed = slope.map_or_else(|| m.x + log_odds(wanted) - log_odds(share), |slope| m.x - over / slope);
            let stuck = m.turns.is_multiple_of(5) && over.abs() > 0.3 * std::mem::replace(&mut m.far, over.abs());
            let next = if stuck && high - low < 0.1 {
                // so near and not there: is the other end, found when flows were others, still one?
                if over > 0.0 { low } else { high }
            } else if stuck || !(aimed > low && aimed < high) {
                f64::midpoint(low, high)
            } else {
                aimed
            };
            if (next - m.x).abs() > 1e-9 {
                moves = Some(m.hot_way);
            }
            m.x = next;
            let [hot_law, cold_law] = m.laws();
            self.ways[m.hot_way].law = hot_law;
            self.ways[m.cold_way].law = cold_law;
        }
        moves
    }

    /// Flows of pumps that keep a difference; the way of one whose flow changes still.
    pub(super) fn control_differences(&mut self, now: &heat::Temperatures) -> Option<usize> {
        let mut moves = None;
        for d in &mut self.differences {
            let [Some(warm), Some(cool)] = d.between.map(|n| now.nodes[n]) else { continue };
            let q = self.q[d.way];
            let Law::Pump(running) = &mut self.ways[d.way].law else { continue };
            // with the same heat half of the flow has twice the difference; where it answers otherwise the flow swings, and
            // goes a smaller part of the way
            let over = ((warm - cool) / d.difference_k).clamp(0.25, 4.0).ln();
            d.gain = if over * d.over < 0.0 { GAIN_LEAST.max(0.6 * d.gain) } else { (1.2 * d.gain).min(1.0) };
            d.over = over;
            let wanted = (q * (d.gain * over).exp()).clamp(0.02 * running.end(), running.end());
            // what the curve cannot give is asked for all the same, and rests
            if over.abs() > KEPT_SHARE && (wanted - d.asked).abs() > 1e-4 * wanted {
                moves = Some(d.way);
            }
            d.asked = wanted;
            running.set_flow(wanted);
        }
        if moves.is_some() {
            // at other flows a valve's turn is another, not far off
            for m in &mut self.mixers {
                (m.last, m.between) = (None, [(m.x - TURN_NEAR).max(-MIXER_ENDS), (m.x + TURN_NEAR).min(MIXER_ENDS)]);
            }
        }
        moves
    }
}

impl MixerState {
    /// The openings of its hot and its cold side.
    pub(super) fn laws(&self) -> [Law; 2] {
        let hot = 1.0 / (1.0 + (-self.x).exp());
        [hot, 1.0 - hot].map(|share| Law::Kv(self.kv * share.max(1e-9)))
    }
}
