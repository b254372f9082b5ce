//! Units, each a type of its own.

/// An angle in degrees. [`Degrees::radians`] gives what [`f64::sin`] wants.
#[derive(Debug, Clone, Copy, PartialEq, PartialOrd)]
pub struct Degrees(pub f64);

impl Degrees {
    /// The same angle in radians.
    pub fn radians(self) -> f64 {
        self.0.to_radians()
    }

    /// Its sine.
    pub fn sine(self) -> f64 {
        self.radians().sin()
    }
}

/// Feet to metres.
#[deprecated(since = "0.3.0", note = "use `from_feet` instead")]
pub fn feet(count: f64) -> f64 {
    from_feet(count)
}

/// Feet to metres.
pub fn from_feet(count: f64) -> f64 {
    count * 0.3048
}

/// Metres to feet; the reverse is [`feet`].
pub fn to_feet(metres: f64) -> f64 {
    metres / 0.3048
}
