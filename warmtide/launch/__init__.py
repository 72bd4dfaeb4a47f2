"""Starting everything on one machine: the database, the server, the workers."""

from .supervisor import launch

__all__ = ["launch"]
