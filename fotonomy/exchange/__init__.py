"""Open formats, in and out: untrusted input ends here."""
