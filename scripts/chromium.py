"""Debian's Chromium: its headless shell where it is there, which needs a third of the time, else the browser."""

from __future__ import annotations

from pathlib import Path

_SHELL, _BROWSER = Path("/usr/bin/chromium-headless-shell"), Path("/usr/bin/chromium")
CHROMIUM = str(_SHELL if _SHELL.exists() else _BROWSER)
FLAGS = [
    "--no-sandbox",
    "--disable-gpu",
    "--disable-background-networking",
    "--disable-component-update",
    "--disable-sync",
]
