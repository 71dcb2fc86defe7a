"""Passerelle: plans fiber links from the walk-through to the signed turn-up."""

__version__ = "0.1.0"
