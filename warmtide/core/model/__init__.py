"""The data that every floor above passes on: recipes, looks, sittings, guides, faces, scenes in words, sweeps."""
