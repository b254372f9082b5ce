"""The promises, measured as ratios within one run."""
