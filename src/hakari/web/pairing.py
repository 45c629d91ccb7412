"""Who may come in from beyond this computer: the pairing page, and nothing else without a device's token."""

from __future__ import annotations

from html import escape

from flask import Response, current_app, redirect, request
from werkzeug.wrappers import Response as AnyResponse

from hakari.core.errors import InputError
from hakari.formats.base import ErrorDocument
from hakari.service.devices import use_cases as devices
from hakari.service.devices.pairing_codes import GuessedTooOftenError, PairingCodes
from hakari.web.addresses import LOOPBACK, Serving, is_loopback, name_of
from hakari.web.shared import workspace

COOKIE, COOKIE_S = "hakari_device", 400 * 24 * 3600
PAGE = "/pair"


def codes() -> PairingCodes:
    """Return the codes of the running application."""
    found: PairingCodes = current_app.extensions["pairing_codes"]
    return found


def serving() -> Serving:
    """Return how the application is served."""
    found: Serving = current_app.extensions["serving"]
    return found


def is_this_computer() -> bool:
    """Whether a request comes from the computer that serves: over its own loopback name, and not through a proxy."""
    forwarded = "X-Forwarded-For" in request.headers or "Forwarded" in request.headers
    return is_loopback(request.remote_addr) and name_of(request.host) in LOOPBACK and not forwarded


def only_let_in() -> AnyResponse | None:
    """Refuse requests from elsewhere without the token of a device that was let in."""
    if is_this_computer() or request.path == PAGE:
        return None
    if devices.known_device(workspace(), request.cookies.get(COOKIE)) is not None:
        return None
    if request.path.startswith("/api/"):
        return _refusal("not-let-in", "This device is not let in.", f"Open {PAGE} and type a code.", 401)
    return redirect(PAGE, 303)


def pairing_page() -> AnyResponse:
    """Show the form; a code in the address fills it in, so that scanning takes one more tap."""
    if request.method == "GET":
        return _page(request.args.get("code", ""))
    typed = request.form.get("code", "")[:40]
    try:
        codes().redeem(typed, request.remote_addr or "")
    except InputError as error:
        return _page(typed, error, 429 if isinstance(error, GuessedTooOftenError) else 403)
    token = devices.let_in(workspace(), request.form.get("name", ""))
    answer = redirect("/", 303)
    answer.set_cookie(
        COOKIE, token, max_age=COOKIE_S, httponly=True, samesite="Strict", secure=serving().https, path="/"
    )
    return answer


def _refusal(code: str, message: str, remedy: str, status: int) -> Response:
    body = ErrorDocument(code=code, message=message, remedy=remedy).model_dump_json()
    return Response(body, status=status, mimetype="application/json")


def _page(code: str, error: InputError | None = None, status: int = 200) -> Response:
    agent = request.headers.get("User-Agent", "")
    name = "Tablet" if "iPad" in agent or "Tablet" in agent else "Phone" if "Mobi" in agent else "Computer"
    said = f'<p class="trouble" role="alert"><b>{escape(error.message)}</b> {escape(error.remedy)}</p>' if error else ""
    html = _PAGE.format(code=escape(code, quote=True), name=name, said=said)
    response = Response(html, status=status, mimetype="text/html")
    response.headers["Cache-Control"] = "no-store"
    return response


# A page of its own, without the application's scripts: nothing else is sent before a device is let in.
_PAGE = """<!doctype html>
<html lang="en"><head><meta charset="utf-8"><title>Hakari: let this device in</title>
<meta name="viewport" content="width=device-width, initial-scale=1">
<style>
:root {{ color-scheme: light dark; --paper: #fbf8f1; --ink: #1b2440; --quiet: #5b6079; --line: #d8d2c2; --act: #b93d16; }}
@media (prefers-color-scheme: dark) {{
  :root {{ --paper: #1b2033; --ink: #f1ede2; --quiet: #a9adc0; --line: #3a4058; --act: #ff7a4d; }}
}}
body {{ margin: 0; background: var(--paper); color: var(--ink); font: 17px/1.45 system-ui, sans-serif; }}
main {{ max-width: 360px; margin: 0 auto; padding: 48px 24px; }}
h1 {{ font-size: 26px; letter-spacing: -0.02em; margin: 0 0 8px; }}
p {{ color: var(--quiet); margin: 0 0 20px; }}
label {{ display: block; font-size: 14px; color: var(--quiet); margin-top: 18px; }}
input {{ width: 100%; box-sizing: border-box; font: 600 26px/1.3 ui-monospace, monospace; color: inherit; background: none;
  border: 0; border-bottom: 2px solid var(--line); padding: 8px 2px; border-radius: 0; }}
input.name {{ font: 18px/1.4 system-ui, sans-serif; }}
button {{ margin-top: 28px; width: 100%; min-height: 52px; font: 600 18px system-ui, sans-serif; color: var(--paper);
  background: var(--act); border: 0; border-radius: 10px; }}
.trouble {{ color: var(--ink); border-left: 3px solid var(--act); padding-left: 10px; }}
</style></head><body><main>
<h1>Let this device in</h1>
<p>On the computer that runs Hakari, open Devices in the bar at the bottom and let a device in.
It shows a code for two minutes.</p>
{said}
<form method="post" action="/pair" autocomplete="off">
<label for="code">Code</label>
<input id="code" name="code" value="{code}" required maxlength="20" autocapitalize="characters" spellcheck="false" autofocus>
<label for="name">Call this device</label>
<input id="name" class="name" name="name" value="{name}" maxlength="60">
<button type="submit">Let this device in</button>
</form></main></body></html>
"""
