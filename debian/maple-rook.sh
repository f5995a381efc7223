#!/bin/sh
# Maple Rook as its own user, with the settings of /etc/maple-rook/maple-rook.conf.
set -a
[ -r /etc/maple-rook/maple-rook.conf ] && . /etc/maple-rook/maple-rook.conf
set +a
if [ "$(id -u)" = 0 ]; then
  exec setpriv --reuid maple-rook --regid maple-rook --init-groups /usr/bin/maple-rook "$@"
fi
PYTHONPATH=/opt/maple-rook/lib exec /usr/bin/python3 -s -m maple_rook.cli "$@"
