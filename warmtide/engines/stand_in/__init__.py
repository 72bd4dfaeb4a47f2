"""A simulated engine that speaks the protocol: for tests, and to try other engines without having one."""
