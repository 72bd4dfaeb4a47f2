"""Starting everything on one machine: the database, the server, the workers."""

from .supervisor import Launch, launch

__all__ = ["Launch", "launch"]
