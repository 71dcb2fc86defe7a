#!/bin/sh
# The api's description and the screens' types must be those of the code as it stands.
set -eu
fresh=$(mktemp -d)
trap 'rm -rf "$fresh"' EXIT
.venv/bin/passerelle openapi > "$fresh/openapi.json"
if ! cmp -s "$fresh/openapi.json" docs/openapi.json; then
  echo "docs/openapi.json is not what the api says: run 'make types'" >&2
  exit 1
fi
.venv/bin/passerelle schema > "$fresh/plan.schema.json"
if ! cmp -s "$fresh/plan.schema.json" docs/plan.schema.json; then
  echo "docs/plan.schema.json is not what the program reads: run 'make types'" >&2
  exit 1
fi
.venv/bin/passerelle lists > "$fresh/lists.ts"
if ! cmp -s "$fresh/lists.ts" web/src/shared/generated/lists.ts; then
  echo "web/src/shared/generated/lists.ts is out of date: run 'make types'" >&2
  exit 1
fi
(cd web && npx --no-install openapi-typescript ../docs/openapi.json -o "$fresh/api.d.ts" >/dev/null)
if ! cmp -s "$fresh/api.d.ts" web/src/shared/generated/api.d.ts; then
  echo "web/src/shared/generated/api.d.ts is out of date: run 'make types'" >&2
  exit 1
fi
