#!/bin/sh
# Hot reload: the api restarts when Python changes, the screens reload when the web part changes.
set -eu
port=${1:-8000}
.venv/bin/passerelle demo --no-serve
trap 'kill 0' EXIT INT TERM
PASSERELLE_DATABASE=var/demo.sqlite .venv/bin/uvicorn --factory passerelle.api.dev:app \
  --reload --reload-dir src --port "$port" &
(cd web && PASSERELLE_PORT="$port" npm run --silent dev) &
wait
