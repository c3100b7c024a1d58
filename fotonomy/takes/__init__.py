"""What came home: takes against their plan, and what their pictures say."""
