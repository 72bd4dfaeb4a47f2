"""Flat art taken apart."""
