"""Picture files: decoded, framed, recoloured, mixed and written."""
