"""Cures: each is added to the rules whose findings it may clear, when its module is read."""

from passerelle.core.repairs import condition, copper, delivery, exchange, light, optics, polarity

__all__ = ["condition", "copper", "delivery", "exchange", "light", "optics", "polarity"]
