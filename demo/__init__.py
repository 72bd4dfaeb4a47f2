"""Lantern Quay: an invented harbour town and its winter lantern walk, drawn by the programs in this folder."""
