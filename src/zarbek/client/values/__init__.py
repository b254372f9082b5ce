"""What the portal answers, as its API's description says."""
