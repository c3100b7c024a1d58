"""Transfer functions, by formula and by table."""
