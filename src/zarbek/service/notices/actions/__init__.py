"""Every change to webhooks, deliveries and mail."""
