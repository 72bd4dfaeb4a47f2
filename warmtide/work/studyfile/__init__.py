"""A study as one file: out of the records, and into those of another machine (docs/formats.md)."""
