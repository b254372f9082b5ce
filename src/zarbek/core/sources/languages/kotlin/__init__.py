"""Kotlin. Source: Kotlin language specification 1.9."""
