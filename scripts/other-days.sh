#!/bin/sh
# The whole suite on other days: a 29 February, across the end and the beginning of daylight saving time where clocks
# are turned, and 400 days ahead. The machine's clock and the one of the tests (tests/clock.py) say the same moment.
# Usage: other-days.sh PYTEST [ARGUMENT ...]
set -eu
ahead=$(date -u -d "+400 days" "+%Y-%m-%d %H:%M:%S")
for moment in "2028-02-29 09:00:00" "2027-03-14 06:58:00" "2026-11-01 05:58:00" "$ahead"; do
  echo "== $moment UTC, in New York"
  zone=America/New_York
  there=$(TZ=$zone date -d "$moment UTC" "+%Y-%m-%d %H:%M:%S")
  TZ=$zone FAKETIME_DONT_FAKE_MONOTONIC=1 PASSERELLE_TEST_NOW="$(echo "$moment" | tr ' ' T)+00:00" \
    faketime -f "@$there" "$@"
done
