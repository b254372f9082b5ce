//! Stability of Halmere's ferries.
//!
//! Put [`Weight`]s into a [`Condition`], ask it for its [`Condition::centre`], and hand that to
//! a [`Hull`] for the [righting lever](Hull::lever). All lengths are metres, all masses tonnes.
//!
//! # Examples
//!
//! ```
//! use keelmath::{Condition, Hull, Weight};
//!
//! let mut condition = Condition::new();
//! condition.add(Weight::new("cars", 40.0, 2.1));
//! let hull = Hull::new(60.0, 11.0, 2.4);
//! assert!(hull.righting_lever(&condition, 10.0).is_ok());
//! ```

mod condition;
mod error;
pub mod hull;
pub mod units;

pub use condition::{Condition, Weight};
pub use error::StabilityError;
pub use hull::Hull;

/// What calculations here return; see [`StabilityError`].
pub type Result<T> = std::result::Result<T, StabilityError>;

/// Density of sea water in tonnes per cubic metre.
pub const SEA_WATER: f64 = 1.025;

/// Density of fresh water in tonnes per cubic metre.
pub const FRESH_WATER: f64 = 1.0;

/// Makes a [`Weight`] from a name, a mass and a height.
///
/// ```
/// let cars = keelmath::weight!("cars", 40.0, 2.1);
/// ```
#[macro_export]
macro_rules! weight {
    ($name:expr, $mass:expr, $height:expr) => {
        $crate::Weight::new($name, $mass, $height)
    };
}
