"""Acceptance: what is tested, against which limit, what was read, and what a difference probably is."""
