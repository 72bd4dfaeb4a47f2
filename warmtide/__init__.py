"""Warm Tide: restyle a picture by sweeping a few controls and comparing every take with its source."""

__version__ = "0.1.0"
