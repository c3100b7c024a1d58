"""One scene exposed several ways: methods, profiles, low light, two setups."""
