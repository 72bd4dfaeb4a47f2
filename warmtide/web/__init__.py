"""The HTTP interface: one module a resource."""
