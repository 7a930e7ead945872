#!/bin/sh
# Installs the Debian packages named, where they are missing. Says plainly what to do when that is not possible.
set -eu
missing=""
for p in "$@"; do
  dpkg-query -W -f '${Status}' "$p" 2>/dev/null | grep -q 'install ok installed' || missing="$missing $p"
done
[ -z "$missing" ] && exit 0
as_root=""
if [ "$(id -u)" != 0 ]; then
  if ! command -v sudo >/dev/null; then
    echo "These packages are missing and you are not root:$missing" >&2
    echo "Ask whoever runs this machine for: apt-get install$missing" >&2
    exit 1
  fi
  as_root="sudo"
fi
echo "Installing from Debian:$missing …"
log=$(mktemp)
if ! { $as_root apt-get update -q && $as_root env DEBIAN_FRONTEND=noninteractive apt-get install -y -q --no-install-recommends $missing; } >"$log" 2>&1; then
  tail -n 15 "$log" >&2
  echo "Installing failed. Try it by hand: apt-get update && apt-get install$missing" >&2
  exit 1
fi
rm -f "$log"
