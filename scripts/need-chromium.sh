#!/bin/sh
# The browser tests drive Debian's headless chromium. Install it where it is missing.
set -eu
if command -v chromium-headless-shell >/dev/null 2>&1; then exit 0; fi
echo "chromium is missing: installing Debian's package"
sudo=""
if [ "$(id -u)" != 0 ]; then sudo="sudo"; fi
$sudo apt-get update -qq
$sudo apt-get install -y -qq chromium-headless-shell || $sudo apt-get install -y -qq chromium
