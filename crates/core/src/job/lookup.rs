//! What a job's ids name: its own first, then the library's.

use super::{BuildUp, Construction, Job, Material, Position, Room};
use crate::error::FieldError;
use crate::library::{self, Covering, PumpModel, Tube};

impl Job {
    /// The build-up of that id, of the job or the library.
    pub fn build_up(&self, id: &str) -> Option<&BuildUp> {
        self.build_ups.iter().find(|b| b.id == id).or_else(|| library::build_up(id))
    }

    /// Whether the floor of a room is poured, and keeps heat.
    pub fn has_poured_floor(&self, room: &Room) -> bool {
        let build_up = room.floor.as_ref().and_then(|f| self.build_up(&f.build_up_id));
        build_up.is_some_and(|b| b.laying.is_poured())
    }

    /// The construction of that id, the job's own first.
    pub fn construction(&self, id: &str) -> Option<&Construction> {
        self.constructions.iter().find(|c| c.id == id).or_else(|| library::construction(id))
    }

    /// The tube of that id, of the job or the library.
    pub fn tube(&self, id: &str) -> Option<&Tube> {
        self.tubes.iter().find(|t| t.id == id).or_else(|| library::tube(id))
    }

    /// The covering of that id, of the job or the library.
    pub fn covering(&self, id: &str) -> Option<&Covering> {
        self.coverings.iter().find(|c| c.id == id).or_else(|| library::covering(id))
    }

    /// The pump of that id, of the job or the library.
    pub fn pump(&self, id: &str) -> Option<&PumpModel> {
        self.pumps().find(|p| p.id == id)
    }

    /// Every pump: the job's own, then the library's, the smallest first.
    pub fn pumps(&self) -> impl Iterator<Item = &PumpModel> {
        self.pumps.iter().chain(&library::library().pumps)
    }

    /// The material of that id, the job's own first.
    pub fn material(&self, id: &str) -> Option<&Material> {
        self.materials.iter().find(|m| m.id == id).or_else(|| library::material(id))
    }

    /// That an id names a construction that can be in that place.
    pub(crate) fn check_construction(
        &self,
        field: &str,
        id: Option<&str>,
        position: Position,
    ) -> Result<(), FieldError> {
        let Some(id) = id else { return Ok(()) };
        let found = self.construction(id);
        let Some(c) = found else {
            return Err(FieldError::new(field, format!("\"{id}\" is no construction of this job or the library")));
        };
        // what stands between rooms may stand anywhere that heat crosses it the same way
        let alike = |p: Position| match p {
            Position::Wall | Position::Partition => 0,
            Position::Roof | Position::Ceiling | Position::Floor => 1,
            Position::Window | Position::Door => 2,
        };
        if alike(c.position) == alike(position) {
            Ok(())
        } else {
            Err(FieldError::new(field, format!("\"{id}\" is made for another place")))
        }
    }
}
