"""Looks for untextured products."""
