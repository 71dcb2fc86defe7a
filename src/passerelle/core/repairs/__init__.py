"""Candidate cures for findings. Nothing here is offered before the review has tried it."""
