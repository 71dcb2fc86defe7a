"""Simulated instruments over a true plant of their own: they speak what real ones speak, and know what no plan
does.
"""
