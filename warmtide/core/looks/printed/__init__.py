"""Looks that are printed."""
