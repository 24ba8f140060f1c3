"""Only this machine's own pages may speak to the server."""

from __future__ import annotations

import secrets
from urllib.parse import urlsplit

from flask import Flask, Response, g, request

from zygomorph.core.errors import ZygomorphError

LOCAL_HOSTS = frozenset({"127.0.0.1", "localhost", "[::1]"})
JSON_LIMIT = 10_000_000
ASSET_LIMIT = 260_000_000


POLICY = (
    "default-src 'self'; script-src 'self'; connect-src 'self'; font-src 'self'; "
    "img-src 'self' blob: data:; style-src {styles}; worker-src 'self'; object-src 'none'; "
    "base-uri 'none'; form-action 'none'; frame-ancestors 'none'"
)
PLAIN_HEADERS = {
    "X-Content-Type-Options": "nosniff",
    "Referrer-Policy": "no-referrer",
    "Cross-Origin-Opener-Policy": "same-origin",
    "Cross-Origin-Resource-Policy": "same-origin",
}


def page_nonce() -> str:
    """A fresh word that the answer's policy lets the page's own styles carry."""
    g.nonce = secrets.token_urlsafe(16)
    return g.nonce


class Refused(ZygomorphError):
    """The request does not come from a page of this server."""


class TooLarge(ZygomorphError):
    """The request's body is over the limit."""


def _host_only(netloc: str) -> str:
    if netloc.startswith("["):
        return netloc.split("]")[0] + "]"
    return netloc.rsplit(":", 1)[0]


def guard(app: Flask, hosts: frozenset[str]) -> None:
    """Check each request's Host, Origin and size, and set the security headers."""

    @app.before_request
    def check() -> None:
        if _host_only(request.host) not in hosts:
            raise Refused(
                f"The host {request.host!r} is not served here.", "Use http://127.0.0.1 instead."
            )
        origin = request.headers.get("Origin")
        if origin is not None and urlsplit(origin).netloc != request.host:
            raise Refused("Requests from other sites are refused.", "Open the program's own page.")
        elsewhere = request.headers.get("Sec-Fetch-Site", "none") in ("cross-site", "same-site")
        followed_link = (
            request.method == "GET" and request.headers.get("Sec-Fetch-Mode") == "navigate"
        )
        if elsewhere and not followed_link:
            raise Refused("Requests from other sites are refused.", "Open the program's own page.")
        limit = ASSET_LIMIT if request.path == "/api/assets" else JSON_LIMIT
        if (request.content_length or 0) > limit:
            raise TooLarge(
                f"The request has {request.content_length:,} bytes; the limit is {limit:,}.",
                "Send less at once.",
            )

    @app.after_request
    def headers(response: Response) -> Response:
        # Only a page has styles of its own, and asks for a nonce.
        nonce = g.get("nonce")
        styles = f"'self' 'nonce-{nonce}'" if nonce else "'self'"
        response.headers["Content-Security-Policy"] = POLICY.format(styles=styles)
        response.headers.extend(PLAIN_HEADERS)
        if "Cache-Control" not in response.headers:
            response.headers["Cache-Control"] = "no-store"
        return response
