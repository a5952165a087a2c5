"""What stands before the processes: nginx, Debian's own, which waits for slow people so that none of our threads does.

It takes a request whole before it hands it on and an answer whole before it is read, so any number of connections may lie
idle or trickle. Requests about a build go to the process that keeps it; all others to any.
"""

from __future__ import annotations

import json
import shutil
from pathlib import Path

from ..web.environment import LARGEST_UPLOAD

#: a request's head, and each further piece of its body, come within so many seconds
PATIENCE = 20
#: seconds of the longest answer
LONGEST = 900

_GONE = "unreachable", "the process that answered has ended, and another takes its place; ask again"
_UNREAD = "not_http", "this is no request that can be read"
_LARGE = "request_entity_too_large", f"more than {LARGEST_UPLOAD // 2**20} MB at once are not taken in; send less"

_CONFIGURATION = """\
daemon off;
{user}
worker_processes 1;
worker_shutdown_timeout 2s;
pid {folder}/nginx.pid;
error_log stderr crit;
events {{ worker_connections 4096; }}
worker_rlimit_nofile 8192;
http {{
  access_log off;
  server_tokens off;
  default_type application/octet-stream;
  client_body_temp_path {folder}/bodies;
  proxy_temp_path {folder}/answers;
  fastcgi_temp_path {folder}/unused;
  uwsgi_temp_path {folder}/unused;
  scgi_temp_path {folder}/unused;
  client_max_body_size {largest};
  client_body_buffer_size 256k;
  client_header_timeout {patience}s;
  client_body_timeout {patience}s;
  send_timeout 60s;
  keepalive_timeout 75s;
  gzip on;  # scripts and styles, which a browser keeps; what is drawn is packed already
  gzip_types text/css text/javascript;
  gzip_comp_level 6;
  gzip_min_length 4096;
  # the same build always meets the same process, where it is warm
  map $uri $keeper {{
    default $request_id;
    "~^/api/builds/(?<build>[0-9a-f]+)(/|$)" $build;
  }}
  upstream keepers {{
    hash $keeper;
{servers}
  }}
  server {{
    listen {address};
    proxy_set_header Host $http_host;
    proxy_set_header X-Forwarded-Proto "";
    proxy_connect_timeout 10s;
    proxy_read_timeout {longest}s;
    proxy_send_timeout 60s;
    proxy_buffers 128 64k;
    proxy_buffer_size 64k;
    proxy_busy_buffers_size 128k;
    error_page 400 494 495 496 497 =400 /unread;
    error_page 413 @large;
    error_page 502 503 504 =503 @gone;
    location / {{ proxy_pass http://keepers; }}
    location /api/events {{
      proxy_buffering off;
      proxy_pass http://keepers;
    }}
    # by a path: what cannot be read may have none, and then no named place can be gone to
    location = /unread {{ internal; {unread} }}
    location @large {{ {large} }}
    location @gone {{ {gone} }}
  }}
}}
"""


def program() -> str | None:
    """Where nginx is; none where it is not installed."""
    return shutil.which("nginx") or shutil.which("/usr/sbin/nginx")


def socket_of(folder: Path, number: int) -> Path:
    """Where the process of this number listens."""
    return folder / f"{number}.socket"


def configuration(folder: Path, host: str, port: int, processes: int, root: bool) -> str:
    """What nginx is told.

    Args:
        folder: where the processes listen and where it may keep what is under way.
        host, port: where people ask; a host with colons is an IPv6 address.
        processes: how many there are, each at its own ``socket_of``.
        root: whether it is started as root, and then stays it: the folder is open to nobody else.
    """
    servers = "\n".join(f"    server unix:{socket_of(folder, n)} max_fails=0;" for n in range(processes))
    return _CONFIGURATION.format(
        folder=folder, user="user root;" if root else "", servers=servers,
        address=f"[{host}]:{port}" if ":" in host else f"{host}:{port}",
        largest=LARGEST_UPLOAD + 2**20,  # a little more is refused by whoever knows what it is
        patience=PATIENCE, longest=LONGEST, unread=_said(_UNREAD, 400), large=_said(_LARGE, 413), gone=_said(_GONE, 503))


def _said(fault: tuple[str, str], status: int) -> str:
    """A refusal in the form of all others (``web.schemas.Fault``)."""
    text = json.dumps(dict(zip(("code", "message"), fault, strict=True)))
    return f"default_type application/json; return {status} '{text}';"
