"""Looks that are painted."""
