"""Everything the numbers of a setup come to, before anyone judges them."""
