"""Looks learned from reference pictures: a dictionary of patches, matched and voted."""
