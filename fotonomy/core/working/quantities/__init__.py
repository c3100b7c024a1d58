"""Every number of a plan, by topic: what it is, its formula, its source, how sure it is."""
