#!/usr/bin/env bash
# again.sh COMMAND...: runs a command again whenever it fails. A worker whose queue vanishes at the wrong moment can end for good;
# what it was at is done again by itself. One that fails five times, each within ten seconds, is not run any more.
set -u
quick=0
while [ "$quick" -lt 5 ]; do
  began=$SECONDS
  "$@" && exit 0
  if [ $((SECONDS - began)) -lt 10 ]; then quick=$((quick + 1)); else quick=0; fi
  sleep 1
done
printf '%s failed five times in a row\n' "$1" >&2
exit 1
