"""Cures: each is added to the rules whose findings it may clear, when its module is read."""

from passerelle.core.repairs import copper, delivery, exchange, light, optics, polarity

__all__ = ["copper", "delivery", "exchange", "light", "optics", "polarity"]
