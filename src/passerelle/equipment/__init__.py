"""Clients for the instruments and boxes of the outside world."""
