"""Small budgets of plans side by side."""
