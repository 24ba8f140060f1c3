#!/bin/sh
# The tests drive the real interface in Chromium: install Debian's package where that is allowed,
# and otherwise say exactly what to run.
set -e
for name in "$CHROMIUM" chromium chromium-browser google-chrome; do
    if [ -n "$name" ] && command -v "$name" >/dev/null 2>&1; then exit 0; fi
done
if command -v apt-get >/dev/null 2>&1 && [ "$(id -u)" = 0 ]; then
    echo "Installing Chromium for the tests of the interface"
    apt-get update -qq && DEBIAN_FRONTEND=noninteractive apt-get install -y -qq chromium >/dev/null
    exit 0
fi
echo "The tests of the interface need Chromium. Install it with:" >&2
echo "    sudo apt-get update && sudo apt-get install chromium" >&2
echo "or set CHROMIUM to the path of a Chromium that is there." >&2
exit 1
