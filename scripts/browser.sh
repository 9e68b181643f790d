#!/bin/sh
# Makes sure Debian's Chromium and a fallback font are there; installs them where apt can.
command -v chromium >/dev/null 2>&1 && exit 0
say="Sorvek's browser tests need Chromium at /usr/bin/chromium: apt-get install chromium fonts-dejavu-core"
command -v apt-get >/dev/null 2>&1 || { echo "$say"; exit 1; }
run=""
[ "$(id -u)" = 0 ] || run="sudo -n"
$run apt-get update -qq >/dev/null 2>&1
DEBIAN_FRONTEND=noninteractive $run apt-get install -y -qq chromium fonts-dejavu-core >/dev/null 2>&1 || { echo "$say"; exit 1; }
