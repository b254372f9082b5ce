use crate::{Result, StabilityError};

/// One thing aboard.
#[derive(Debug, Clone, PartialEq)]
pub struct Weight {
    /// What it is, for people.
    pub name: String,
    /// Tonnes.
    pub mass: f64,
    /// Height of its centre above the keel, in metres.
    pub height: f64,
}

impl Weight {
    /// A weight at a height above the keel.
    pub fn new(name: impl Into<String>, mass: f64, height: f64) -> Self {
        Weight { name: name.into(), mass, height }
    }

    /// Mass times height, which [`Condition::centre`] adds up.
    pub fn moment(&self) -> f64 {
        self.mass * self.height
    }
}

/// Everything that is aboard at one time.
///
/// Order does not matter. See [`Weight`] for one thing, and [`crate::hull`] for what is done with it.
#[derive(Debug, Clone, Default)]
pub struct Condition {
    weights: Vec<Weight>,
}

impl Condition {
    /// Nothing aboard.
    pub fn new() -> Self {
        Self::default()
    }

    /// Puts a weight aboard.
    pub fn add(&mut self, weight: Weight) -> &mut Self {
        self.weights.push(weight);
        self
    }

    /// Tonnes in all.
    pub fn displacement(&self) -> f64 {
        self.weights.iter().map(|w| w.mass).sum()
    }

    /// Height of the common centre above the keel, in metres.
    ///
    /// # Errors
    ///
    /// [`StabilityError::Empty`] if nothing is aboard.
    pub fn centre(&self) -> Result<f64> {
        let mass = self.displacement();
        if mass <= 0.0 {
            return Err(StabilityError::Empty);
        }
        Ok(self.weights.iter().map(Weight::moment).sum::<f64>() / mass)
    }

    /// The weights, as they were added.
    pub fn weights(&self) -> &[Weight] {
        &self.weights
    }

    /// The heaviest thing aboard, if there is any; compare [`Condition::lightest`].
    pub fn heaviest(&self) -> Option<&Weight> {
        self.weights.iter().max_by(|a, b| a.mass.total_cmp(&b.mass))
    }
}

impl Extend<Weight> for Condition {
    /// Puts many weights aboard at once, as [`Condition::add`] does with one.
    fn extend<I: IntoIterator<Item = Weight>>(&mut self, iter: I) {
        self.weights.extend(iter);
    }
}
