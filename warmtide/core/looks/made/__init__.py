"""Looks that are laid or sewn piece by piece."""
