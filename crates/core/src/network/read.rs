//! Reading a network, and what must hold of it.

use super::{Link, Network, NetworkFluid, Part};
use crate::check::{range, read};
use crate::error::FieldError;
use crate::fluid;
use crate::water::part::{Fluid, FluidKind};
use serde::Deserialize;
use serde_json::{Map, Value};
use std::collections::HashSet;

const MOST_LINKS: usize = 5000;

#[derive(Deserialize)]
#[serde(deny_unknown_fields)]
struct Raw {
    fluid: RawFluid,
    pressure_node: String,
    links: Vec<Map<String, Value>>,
}

#[derive(Deserialize)]
#[serde(deny_unknown_fields)]
struct RawFluid {
    kind: Option<FluidKind>,
    mass_fraction: Option<f64>,
    temperature_c: Option<f64>,
    density_kg_m3: Option<f64>,
    viscosity_pa_s: Option<f64>,
    heat_capacity_j_kgk: Option<f64>,
}

impl RawFluid {
    fn known(self) -> Result<NetworkFluid, FieldError> {
        match (self.kind, self.density_kg_m3, self.viscosity_pa_s) {
            (Some(kind), None, None) if self.heat_capacity_j_kgk.is_none() => Ok(NetworkFluid::Known {
                fluid: Fluid { kind, mass_fraction: self.mass_fraction.unwrap_or(0.0) },
                temperature_c: self.temperature_c,
            }),
            (None, Some(density_kg_m3), Some(viscosity_pa_s)) if self.mass_fraction.is_none() => {
                Ok(NetworkFluid::Typed { density_kg_m3, viscosity_pa_s, heat_capacity_j_kgk: self.heat_capacity_j_kgk })
            }
            _ => Err(FieldError::new("fluid", "has either a kind, or density_kg_m3 and viscosity_pa_s")),
        }
    }
}

impl Network {
    /// Reads a network.
    ///
    /// # Errors
    /// Names the part and the field that is missing, misspelt or out of range.
    pub fn from_json(text: &str) -> Result<Network, FieldError> {
        let raw: Raw = read(text)?;
        let links = raw.links.into_iter().enumerate().map(|(i, link)| link_of(i, link)).collect::<Result<_, _>>()?;
        let network = Network { fluid: raw.fluid.known()?, pressure_node: raw.pressure_node, links };
        network.check()?;
        Ok(network)
    }

    /// That names are unique and figures within their ranges.
    pub(super) fn check(&self) -> Result<(), FieldError> {
        self.check_fluid()?;
        if !(1..=MOST_LINKS).contains(&self.links.len()) {
            return Err(FieldError::new(
                "links",
                format!("must have 1 to {MOST_LINKS} entries, not {}", self.links.len()),
            ));
        }
        let mut ids = HashSet::new();
        for (i, link) in self.links.iter().enumerate() {
            let path = format!("links[{i}] ({})", link.id);
            if link.id.is_empty() {
                return Err(FieldError::new(format!("links[{i}].id"), "must not be empty"));
            }
            if !ids.insert(&link.id) {
                return Err(FieldError::new(path, "another link has the same id"));
            }
            if link.from == link.to {
                return Err(FieldError::new(path, "begins and ends at the same node"));
            }
            check_part(&path, link)?;
        }
        self.check_exchangers()
    }

    /// That both sides of an exchanger name each other and agree.
    fn check_exchangers(&self) -> Result<(), FieldError> {
        for (i, link) in self.links.iter().enumerate() {
            let Part::Exchanger { with, ua_w_k, .. } = &link.part else { continue };
            let mutual = |l: &&Link| {
                l.id == *with
                    && matches!(&l.part, Part::Exchanger { with, ua_w_k: ua, .. } if *with == link.id && ua == ua_w_k)
            };
            if *with == link.id || !self.links.iter().any(|l| mutual(&l)) {
                let reason = format!("{with} must be the other side: an exchanger with this one and the same ua_w_k");
                return Err(FieldError::new(format!("links[{i}] ({}).with", link.id), reason));
            }
        }
        Ok(())
    }

    fn check_fluid(&self) -> Result<(), FieldError> {
        match &self.fluid {
            NetworkFluid::Known { fluid, temperature_c } => {
                range("fluid.mass_fraction", fluid.mass_fraction, 0.0, 0.6)?;
                if let Some(t) = temperature_c {
                    fluid::properties(fluid, *t).map_err(|e| FieldError::new("fluid.temperature_c", e.reason))?;
                }
                Ok(())
            }
            NetworkFluid::Typed { density_kg_m3, viscosity_pa_s, heat_capacity_j_kgk } => {
                range("fluid.density_kg_m3", *density_kg_m3, 1.0, 5000.0)?;
                range("fluid.viscosity_pa_s", *viscosity_pa_s, 1e-6, 10.0)?;
                heat_capacity_j_kgk.map_or(Ok(()), |c| range("fluid.heat_capacity_j_kgk", c, 100.0, 20_000.0))
            }
        }
    }
}

/// A link read field by field, so that an error names the part.
fn link_of(i: usize, mut link: Map<String, Value>) -> Result<Link, FieldError> {
    let mut word = |name: &str| match link.remove(name) {
        Some(Value::String(s)) => Ok(s),
        Some(_) => Err(FieldError::new(format!("links[{i}].{name}"), "must be a text")),
        None => Err(FieldError::new(format!("links[{i}].{name}"), "is missing")),
    };
    let (id, from, to) = (word("id")?, word("from")?, word("to")?);
    let part = serde_json::from_value(Value::Object(link))
        .map_err(|e| FieldError::new(format!("links[{i}] ({id})"), e.to_string()))?;
    Ok(Link { id, from, to, part })
}

fn check_part(path: &str, link: &Link) -> Result<(), FieldError> {
    let within = |name: &str, v: f64, least: f64, most: f64| range(&format!("{path}.{name}"), v, least, most);
    let kv = |kv: &Option<f64>| kv.map_or(Ok(()), |v| within("kv_m3_h", v, 1e-4, 1e5));
    let temperature = |name: &str, v: f64| within(name, v, -60.0, 150.0);
    match &link.part {
        Part::Pipe { length_m, bore_m, roughness_m, minor_k, .. } => {
            within("length_m", *length_m, 1e-4, 1e5)?;
            within("bore_m", *bore_m, 1e-4, 5.0)?;
            within("roughness_m", *roughness_m, 0.0, 0.05 * bore_m)?;
            within("minor_k", *minor_k, 0.0, 1e6)
        }
        Part::Valve { kv_m3_h, open } => {
            within("kv_m3_h", *kv_m3_h, 1e-4, 1e5)?;
            within("open", *open, 0.0, 1.0)
        }
        Part::Pump { .. } => Ok(()),
        Part::Source { leaves_c, heat_w, most_w, kv_m3_h } => {
            match (leaves_c, heat_w) {
                (Some(t), None) => temperature("leaves_c", *t)?,
                (None, Some(w)) => within("heat_w", *w, 0.0, 1e9)?,
                _ => return Err(FieldError::new(path, "a source has either leaves_c or heat_w")),
            }
            most_w.map_or(Ok(()), |w| within("most_w", w, 0.0, 1e9))?;
            kv(kv_m3_h)
        }
        Part::Load { heat_w, ua_w_k, around_c, kv_m3_h } => {
            match (heat_w, ua_w_k, around_c) {
                (Some(w), None, None) => within("heat_w", *w, -1e9, 1e9)?,
                (None, Some(ua), Some(t)) => {
                    within("ua_w_k", *ua, 0.0, 1e8)?;
                    temperature("around_c", *t)?;
                }
                _ => return Err(FieldError::new(path, "a load has either heat_w, or ua_w_k with around_c")),
            }
            kv(kv_m3_h)
        }
        Part::Exchanger { ua_w_k, kv_m3_h, .. } => {
            within("ua_w_k", *ua_w_k, 0.0, 1e8)?;
            kv(kv_m3_h)
        }
        Part::Mixer { hot, cold, setpoint_c, kv_m3_h } => {
            let hot = hot.as_ref().unwrap_or(&link.from);
            if hot == cold || *hot == link.to || *cold == link.to {
                return Err(FieldError::new(path, "a mixer has three nodes: hot, cold, and the link's to"));
            }
            temperature("setpoint_c", *setpoint_c)?;
            within("kv_m3_h", *kv_m3_h, 1e-4, 1e5)
        }
    }
}
