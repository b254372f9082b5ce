//! Hulls and their righting levers.

use crate::units::Degrees;
use crate::{Condition, Result, StabilityError, SEA_WATER};

/// Steepest angle for which the method holds, in degrees.
pub const MAX_ANGLE: f64 = 15.0;

/// Anything that floats.
pub trait Floating {
    /// Height of the metacentre above the keel, in metres.
    fn metacentre(&self, condition: &Condition) -> Result<f64>;

    /// Metacentric height: [`metacentre`](Floating::metacentre) less [`Condition::centre`].
    fn stability(&self, condition: &Condition) -> Result<f64> {
        Ok(self.metacentre(condition)? - condition.centre()?)
    }
}

/// A box-shaped hull, which is near enough for Halmere's ferries.
#[derive(Debug, Clone, Copy, PartialEq)]
pub struct Hull {
    length: f64,
    beam: f64,
    draught: f64,
}

impl Hull {
    /// A hull by length, beam and draught in metres.
    pub const fn new(length: f64, beam: f64, draught: f64) -> Self {
        Hull { length, beam, draught }
    }

    /// Length between perpendiculars, in metres.
    pub fn length(&self) -> f64 {
        self.length
    }

    /// Greatest breadth, in metres.
    pub fn beam(&self) -> f64 {
        self.beam
    }

    /// Draught when nothing is aboard, in metres.
    pub fn draught(&self) -> f64 {
        self.draught
    }

    /// Righting lever at an angle, in metres.
    ///
    /// Holds up to [`MAX_ANGLE`]; a positive lever rights her. The density is [`SEA_WATER`].
    ///
    /// # Errors
    ///
    /// - [`StabilityError::TooSteep`] beyond [`MAX_ANGLE`]
    /// - [`StabilityError::Capsizes`] if the lever is not positive
    pub fn lever(&self, condition: &Condition, degrees: f64) -> Result<f64> {
        if degrees.abs() > MAX_ANGLE {
            return Err(StabilityError::TooSteep { degrees });
        }
        let lever = self.stability(condition)? * Degrees(degrees).sine();
        if lever <= 0.0 && degrees != 0.0 {
            return Err(StabilityError::Capsizes(lever));
        }
        Ok(lever)
    }

    // Draught with everything aboard, in metres.
    pub fn laden_draught(&self, condition: &Condition) -> f64 {
        self.draught + condition.displacement() / (self.length * self.beam * SEA_WATER)
    }
}

impl Floating for Hull {
    fn metacentre(&self, condition: &Condition) -> Result<f64> {
        let draught = self.laden_draught(condition);
        Ok(draught / 2.0 + self.beam * self.beam / (12.0 * draught))
    }
}
