"""Cures: each is added to the rules whose findings it may clear, when its module is read."""

from passerelle.core.repairs import copper, exchange, light, optics, polarity

__all__ = ["copper", "exchange", "light", "optics", "polarity"]
