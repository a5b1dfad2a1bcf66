//! The crate from outside, as one program: linked once, run on all cores.

mod advice;
mod architecture;
mod circuits;
mod coils;
mod corpus;
mod curves;
mod design_balance;
mod every_case;
mod floors;
mod fuzz;
mod given_up;
mod heat_loss;
mod independent;
mod layout_rules;
mod network;
mod one_reading;
mod plant;
mod plant_examples;
mod plant_findings;
mod risers;
mod robust;
mod section;
mod shared_and_bound;
mod verdicts;
mod water_trial;
mod words;
