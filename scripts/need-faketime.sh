#!/bin/sh
# The tests on other days are run under Debian's libfaketime. Install it where it is missing.
set -eu
if command -v faketime >/dev/null 2>&1; then exit 0; fi
echo "faketime is missing: installing Debian's package"
sudo=""
if [ "$(id -u)" != 0 ]; then sudo="sudo"; fi
$sudo apt-get update -qq
$sudo apt-get install -y -qq faketime
