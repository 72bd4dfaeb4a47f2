"""Pictures as curves: areas, outlines, lines."""
