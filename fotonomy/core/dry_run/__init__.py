"""A plan as a schedule of triggers, the log of carrying it out, and what to learn from it."""
