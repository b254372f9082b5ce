"""Telling of it: events to webhooks, mail to teams, feeds."""
