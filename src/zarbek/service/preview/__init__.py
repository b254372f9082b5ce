"""A portal for one reader on their own machine, which shows a working tree as the portal would."""
