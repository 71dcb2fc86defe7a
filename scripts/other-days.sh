#!/bin/sh
# The suite on other days, as somebody in New York lives them: a 29 February, the nights in which daylight saving time
# begins and ends, and 400 days ahead. All of it by the clock of the tests (tests/clock.py); what needs no server also
# under a machine's clock that says the same moment (libfaketime: sockets and other threads' timers do not run under it).
# Usage: other-days.sh PYTEST [ARGUMENT ...]
set -eu
ahead=$(date -u -d "+400 days" "+%Y-%m-%d %H:%M:%S")
export TZ=America/New_York
for moment in "2028-02-29 09:00:00" "2027-03-14 06:58:00" "2026-11-01 05:58:00" "$ahead"; do
  echo "== $moment UTC"
  PASSERELLE_TEST_NOW="$(echo "$moment" | tr ' ' T)+00:00"
  export PASSERELLE_TEST_NOW
  "$@"
  there=$(date -d "$moment UTC" "+%Y-%m-%d %H:%M:%S")
  FAKETIME_DONT_FAKE_MONOTONIC=1 faketime -f "@$there" "$1" tests/core tests/store tests/exchange tests/test_cli_files.py
done
