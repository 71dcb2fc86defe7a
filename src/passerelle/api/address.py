"""Where the api begins."""

ROOT = "/api/v1"
"""The prefix of every address. Routers are made with it, so that their schemas are built once, when they are
imported: an application that includes routers under a prefix builds them all again at its first request."""
