"""Speed, measured on the machine at hand and written to docs/performance.md."""
