"""Pictures as files to be taken away: one file a format, found by the registry."""
