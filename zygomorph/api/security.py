"""Only this machine's own pages may speak to the server."""

from __future__ import annotations

import secrets
from collections.abc import Mapping
from dataclasses import dataclass
from typing import Any
from urllib.parse import urlsplit

from flask import Flask, Response, g, request

from zygomorph.core.errors import ZygomorphError

LOCAL_HOSTS = frozenset({"127.0.0.1", "localhost", "[::1]"})
JSON_LIMIT = 10_000_000
ASSET_LIMIT = 260_000_000
# Where files are sent to.
FILES = ("/api/assets", "/api/images", "/api/films", "/api/sounds")
# Pictures and clips that are to be encoded, which are never held in memory as a whole.
CLIPS = "/api/clips"
CLIP_LIMIT = 4_000_000_000
# Studies with all they use.
BUNDLES = "/api/bundles"
BUNDLE_LIMIT = 1_000_000_000
# Where windows send the pictures that they draw.
PICTURES = "/api/pictures/"


POLICY = (
    "default-src 'self'; script-src 'self'; connect-src 'self'; font-src 'self'; "
    "img-src 'self' blob: data:; style-src {styles}; worker-src 'self'; object-src 'none'; "
    "base-uri 'none'; form-action 'none'; frame-ancestors 'self'"
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


@dataclass(frozen=True)
class Asked:
    """What of a request decides whether it is answered."""

    method: str
    path: str
    host: str
    origin: str | None
    fetch_site: str
    fetch_mode: str
    length: int

    @classmethod
    def of(cls, environ: Mapping[str, Any]) -> Asked:
        """Read a WSGI environment."""
        length = environ.get("CONTENT_LENGTH") or "0"
        return cls(
            method=environ["REQUEST_METHOD"],
            path=environ["PATH_INFO"],
            host=environ.get("HTTP_HOST", ""),
            origin=environ.get("HTTP_ORIGIN"),
            fetch_site=environ.get("HTTP_SEC_FETCH_SITE", "none"),
            fetch_mode=environ.get("HTTP_SEC_FETCH_MODE", ""),
            length=int(length) if length.isdigit() else 0,
        )


def _host_only(netloc: str) -> str:
    if netloc.startswith("["):
        return netloc.split("]")[0] + "]"
    return netloc.rsplit(":", 1)[0]


def refusal(asked: Asked, hosts: frozenset[str]) -> ZygomorphError | None:
    """Why a request is not answered, or None where it may be."""
    if _host_only(asked.host) not in hosts:
        return Refused(
            f"The host {asked.host!r} is not served here.", "Use http://127.0.0.1 instead."
        )
    followed_link = asked.method == "GET" and asked.fetch_mode == "navigate"
    elsewhere = asked.fetch_site in ("cross-site", "same-site") and not followed_link
    foreign = asked.origin is not None and urlsplit(asked.origin).netloc != asked.host
    if elsewhere or foreign:
        return Refused("Requests from other sites are refused.", "Open the program's own page.")
    large = asked.path in FILES or asked.path.startswith(PICTURES)
    limit = ASSET_LIMIT if large else JSON_LIMIT
    limit = {CLIPS: CLIP_LIMIT, BUNDLES: BUNDLE_LIMIT}.get(asked.path, limit)
    if asked.length > limit:
        return TooLarge(
            f"The request has {asked.length:,} bytes; the limit is {limit:,}.", "Send less at once."
        )
    return None


def policy(styles: str = "'self'") -> str:
    """The content policy of an answer."""
    return POLICY.format(styles=styles)


def guard(app: Flask, hosts: frozenset[str]) -> None:
    """Check each request's Host, Origin and size, and set the security headers."""

    @app.before_request
    def check() -> None:
        problem = refusal(Asked.of(request.environ), hosts)
        if problem is not None:
            raise problem

    @app.after_request
    def headers(response: Response) -> Response:
        # Only a page has styles of its own, and asks for a nonce.
        nonce = g.get("nonce")
        styles = f"'self' 'nonce-{nonce}'" if nonce else "'self'"
        response.headers["Content-Security-Policy"] = policy(styles)
        response.headers.extend(PLAIN_HEADERS)
        if "Cache-Control" not in response.headers:
            response.headers["Cache-Control"] = "no-store"
        return response
