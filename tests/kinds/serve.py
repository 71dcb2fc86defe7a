"""The demo with the foreign kind, served for a browser: run by ``test_foreign_kind_journey``."""

from __future__ import annotations

import sys
from pathlib import Path

import passerelle.core.parts.kinds as kinds

kinds.__path__.append(str(Path(__file__).parent / "extra"))

import uvicorn  # noqa: E402

from passerelle.api.app import create_app  # noqa: E402
from passerelle.store.database import Database  # noqa: E402

if __name__ == "__main__":
    uvicorn.run(
        create_app(Database(Path(sys.argv[1]))), host="127.0.0.1", port=int(sys.argv[2]), log_level="warning"
    )
