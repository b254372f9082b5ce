use std::fmt;

/// Why a calculation was refused.
#[derive(Debug, Clone, PartialEq)]
#[non_exhaustive]
pub enum StabilityError {
    /// Nothing is aboard, so there is no centre.
    Empty,
    /// The angle is beyond what the method allows.
    TooSteep {
        /// The angle asked for, in degrees.
        degrees: f64,
    },
    /// The ferry would not come upright again.
    Capsizes(f64),
}

impl fmt::Display for StabilityError {
    fn fmt(&self, f: &mut fmt::Formatter<'_>) -> fmt::Result {
        match self {
            StabilityError::Empty => write!(f, "nothing is aboard"),
            StabilityError::TooSteep { degrees } => write!(f, "{degrees} degrees is too steep"),
            StabilityError::Capsizes(lever) => write!(f, "a lever of {lever} m does not right her"),
        }
    }
}

impl std::error::Error for StabilityError {}
