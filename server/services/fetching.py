"""Fetching from services of others: only from hosts that settings allow, never from private addresses on a user's word.

A name is resolved once, every address that it has must be public, and the connection goes to the one that was looked at: what the
name says a moment later (DNS rebinding) does not matter. Redirects are followed one by one and checked alike. Sizes, times
and types are bounded. (The measures are those of OWASP's "Server-Side Request Forgery Prevention Cheat Sheet".)
"""

import ipaddress
import json
import socket
import time
from collections.abc import Iterator
from dataclasses import dataclass
from typing import Any
from urllib.parse import urljoin, urlsplit

import urllib3
from django.conf import settings
from greylatch.errors import BadFile, BadInput, printable
from greylatch.wording import megabytes

MOST_REDIRECTS, SECONDS, QUIET = 3, 120, 15
"""Redirects that are followed; seconds for one answer, and for its next bytes."""
PIECE = 64 * 1024
MOST_OF_AN_ERROR, LONGEST_ERROR = 16 * 1024, 300
"""Bytes of an answer in which a service says why it has none, and letters of that which are passed on."""
JSON_TYPES = (
    "application/json",
    "application/geo+json",
    "application/vnd.geo+json",
    "text/plain",
    "text/json",
    "+json",
)
XML_TYPES = ("application/xml", "text/xml", "+xml")
PICTURE_TYPES = ("image/png", "image/jpeg", "image/webp")


class ServiceAway(BadInput):
    """A service does not answer, or not with what it was asked for; `status` is what it answered, where it did."""

    status: int | None = None


@dataclass(frozen=True)
class Answer:
    """What a service sent, as which type, and from where in the end."""

    body: bytes
    type: str
    address: str

    def json(self) -> Any:
        """The answer as JSON. Raises BadFile."""
        try:
            return json.loads(self.body)
        except (ValueError, RecursionError) as error:
            raise BadFile(f"What {host_of(self.address)} sent is no JSON that can be read.") from error


def fetch(address: str, types: tuple[str, ...], most: int) -> Answer:
    """The answer at an address, of one of some types and at most `most` bytes.

    Raises BadInput for an address that is not allowed, ServiceAway for what does not answer, too slowly, with an error, with another
    type or with more.
    """
    until = time.monotonic() + SECONDS
    for _ in range(MOST_REDIRECTS + 1):
        host, port, ip = checked(address)
        with _opened(address, host, port, ip) as response:
            if response.status in (301, 302, 303, 307, 308):
                address = urljoin(address, response.headers.get("Location") or "")
                continue
            if response.status != 200:
                said = _why(response, host, until)
                away = ServiceAway(
                    f"{host} answered {response.status} {printable(response.reason or '')[:60]}{(said and f': {said}') or '.'}"
                )
                away.status = response.status
                raise away
            kind = (response.headers.get("Content-Type") or "").split(";")[0].strip().lower()
            if not any(kind == each or (each.startswith("+") and kind.endswith(each)) for each in types):
                raise ServiceAway(
                    f"{host} sent {printable(kind)[:60] or 'something of no type'}, which was not asked for."
                )
            length = response.headers.get("Content-Length", "")
            if length.isdigit() and int(length) > most:
                raise ServiceAway(f"What {host} has to send is larger than {megabytes(most)}.")
            return Answer(b"".join(_pieces(response, host, most, until)), kind, address)
    raise ServiceAway(f"{host_of(address)} leads on and on.")


def checked(address: str) -> tuple[str, int, str]:
    """Host, port and the one IP address to which to go for an address. Raises BadInput for one that is not allowed."""
    try:
        parts = urlsplit(address)
        host, port = (parts.hostname or "").lower().rstrip("."), parts.port
    except ValueError as error:
        raise BadInput("That is no address of a service.") from error
    if parts.scheme not in ("http", "https") or not host or parts.username or parts.password:
        raise BadInput("An address of a service begins with https:// or http:// and a host.")
    port = port or (443 if parts.scheme == "https" else 80)
    inside = f"{host}:{port}" in settings.SERVICES_INSIDE
    if not inside and not any(_fits(host, pattern) for pattern in settings.SERVICES):
        raise BadInput(
            f"{host} is not among the services that are allowed here.", "Whoever runs this installation can add it."
        )
    try:
        addresses = socket.getaddrinfo(host, port, type=socket.SOCK_STREAM)
    except (socket.gaierror, UnicodeError) as error:
        raise ServiceAway(f"There is no host called {host}.") from error
    ips = list(dict.fromkeys(str(each[4][0]).split("%")[0] for each in addresses))
    if not inside and not all(_public(ip) for ip in ips):
        raise BadInput(f"{host} leads into a private network, from where nothing is fetched.")
    return host, port, ips[0]


def host_of(address: str) -> str:
    """The host of an address, for words."""
    return urlsplit(address).hostname or address


def _fits(host: str, pattern: str) -> bool:
    """Whether a host is the one that settings name, or, for `*.name`, below it; `*` is every public one."""
    return pattern == "*" or host == pattern or (pattern.startswith("*.") and host.endswith(pattern[1:]))


def _public(text: str) -> bool:
    ip = ipaddress.ip_address(text)
    # An IPv4 address in the clothes of IPv6 is what it is beneath.
    beneath = getattr(ip, "ipv4_mapped", None) or getattr(ip, "sixtofour", None) or ip
    return ip.is_global and beneath.is_global and not ip.is_multicast


def _opened(address: str, host: str, port: int, ip: str) -> urllib3.BaseHTTPResponse:
    """The answer's head, from that IP address and no other, as if the name had led there."""
    parts = urlsplit(address)
    timeout = urllib3.Timeout(connect=QUIET, read=QUIET)
    if parts.scheme == "https":
        pool: urllib3.HTTPConnectionPool = urllib3.HTTPSConnectionPool(
            ip, port, timeout=timeout, server_hostname=host, assert_hostname=host, cert_reqs="CERT_REQUIRED"
        )
    else:
        pool = urllib3.HTTPConnectionPool(ip, port, timeout=timeout)
    headers = {"Host": parts.netloc, "User-Agent": "Grey Latch", "Accept-Encoding": "gzip"}
    try:
        path = f"{parts.path or '/'}{'?' + parts.query if parts.query else ''}"
        return pool.request("GET", path, headers=headers, redirect=False, retries=False, preload_content=False)
    except (urllib3.exceptions.HTTPError, OSError) as error:
        raise ServiceAway(f"{host} does not answer.") from error


def _why(response: urllib3.BaseHTTPResponse, host: str, until: float) -> str:
    """What a service says of an error of its own, as OGC APIs (`description`) and RFC 9457 (`detail`, `title`) have it; '' where nothing is said so."""
    try:
        answer = json.loads(b"".join(_pieces(response, host, MOST_OF_AN_ERROR, until)))
    except (BadInput, ValueError):
        return ""
    said = answer if isinstance(answer, dict) else {}
    words = next((said[key] for key in ("description", "detail", "title") if isinstance(said.get(key), str)), "")
    return printable(words)[:LONGEST_ERROR].strip()


def _pieces(response: urllib3.BaseHTTPResponse, host: str, most: int, until: float) -> Iterator[bytes]:
    """The body, piece by piece as it is unpacked: a small answer that swells is too large as well."""
    read = 0
    try:
        for piece in response.stream(PIECE, decode_content=True):
            read += len(piece)
            if read > most:
                raise ServiceAway(f"What {host} sends is larger than {megabytes(most)}.")
            if time.monotonic() > until:
                raise ServiceAway(f"{host} sends too slowly.")
            yield piece
    except (urllib3.exceptions.HTTPError, OSError) as error:
        raise ServiceAway(f"{host} broke off.") from error
