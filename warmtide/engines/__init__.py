"""Engines other than the built-in one: reached over HTTP by a protocol of our own (docs/engine-protocol.md)."""
