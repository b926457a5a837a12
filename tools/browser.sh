#!/bin/sh
# The tests' tools that are no Python and no Node packages: Debian's Chromium, and the published
# OFX document types with the SGML checker for them.
set -eu

missing=""
command -v chromium > /dev/null || missing="$missing chromium"
command -v onsgmls > /dev/null || missing="$missing opensp"
[ -e /usr/share/libofx7/libofx/dtd/ofx160.dtd ] || missing="$missing libofx7"
[ -n "$missing" ] || exit 0

if [ "$(id -u)" -eq 0 ]; then
  as_root=""
elif command -v sudo > /dev/null && sudo -n true 2> /dev/null; then
  as_root="sudo"
else
  echo "The tests need Debian's packages$missing, and this user may not install them." >&2
  echo "Run as root: apt-get install --no-install-recommends$missing" >&2
  exit 1
fi
echo "Installing Debian's packages$missing"
$as_root apt-get update -qq
# shellcheck disable=SC2086
DEBIAN_FRONTEND=noninteractive $as_root apt-get install -y -qq --no-install-recommends $missing > /dev/null
