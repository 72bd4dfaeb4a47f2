"""The places that words can ask for, one file each or one for a family; found by the registry."""
