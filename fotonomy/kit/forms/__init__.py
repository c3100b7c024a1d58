"""Forms of gear, one module a sort."""
