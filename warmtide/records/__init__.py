"""Records in PostgreSQL and images in a content-addressed store. Imports the core, never the web."""
