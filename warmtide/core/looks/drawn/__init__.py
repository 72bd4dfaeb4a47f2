"""Looks that are drawn."""
