"""Looks for untextured buildings."""
