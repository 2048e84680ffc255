#!/bin/sh
# Install Debian's chromium when it is missing; the browser tests and the screenshots drive it.
set -e
[ -x /usr/bin/chromium ] && exit 0
as_root=""
[ "$(id -u)" = 0 ] || as_root="sudo"
$as_root apt-get update -qq
DEBIAN_FRONTEND=noninteractive $as_root apt-get install -y -qq chromium >/dev/null
