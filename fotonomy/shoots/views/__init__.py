"""Pages of shoots, setups and plans."""
