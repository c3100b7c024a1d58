"""One scene exposed several ways: strategies, profiles, low light, two setups."""
