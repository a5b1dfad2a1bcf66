//! What is judged: the layout rules that every layout keeps ([`audit`]) and the figures by which two are compared
//! ([`score`]). Nothing here knows how a layout was made.

pub mod audit;
pub mod buildability;
pub mod objective;
pub mod score;
