#!/bin/sh
# Debian's python3.11 comes without the parts that make a virtual environment: install them when they are missing.
set -e
python3.11 -c "import ensurepip, venv" 2>/dev/null && exit 0
as_root=""
[ "$(id -u)" = 0 ] || as_root="sudo"
$as_root apt-get update -qq
DEBIAN_FRONTEND=noninteractive $as_root apt-get install -y -qq python3.11-venv >/dev/null
