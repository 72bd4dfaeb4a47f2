"""Looks for line sketches."""
