"""Pictures made larger: one file a way, found by the registry."""
