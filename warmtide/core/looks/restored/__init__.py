"""Looks that mend what is old."""
