"""Measurements. Each script prints a table; docs/performance.md keeps the figures."""
