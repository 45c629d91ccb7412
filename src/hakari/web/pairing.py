"""Who may come in from beyond this computer: the pairing page, and nothing else without a device's token.

A display's token, which a link carries, opens the brew that runs at its counter and nothing else. What only a manager may do
is listed here.
"""

from __future__ import annotations

import re
from collections.abc import Callable
from html import escape
from urllib.parse import urlencode

from flask import Response, current_app, g, redirect, request
from werkzeug.wrappers import Response as AnyResponse

from hakari.core.errors import InputError
from hakari.formats.base import ErrorDocument
from hakari.service.devices import use_cases as devices
from hakari.service.devices.pairing_codes import GuessedTooOftenError, PairingCodes
from hakari.service.workbench.displayed import displayed_brew
from hakari.web.addresses import LOOPBACK, Serving, is_loopback, name_of
from hakari.web.shared import workspace

COOKIE, COOKIE_S = "hakari_device", 400 * 24 * 3600
PAGE, DISPLAY = "/pair", "/display"
STATION = re.compile(r"/[a-z]{1,20}")
# What a display may always ask for: the page's own files, and these; then its brew, and that brew's plan.
WATCHED = re.compile(r"/(?!api/).*|/api/(devices/current|brews/displayed)")
WATCHED_BREW = re.compile(r"/api/brews/(\d{1,15})(?:/(?:stream|reading))?")
WATCHED_PLAN = re.compile(r"/api/plans/(\d{1,15})")
# What takes the house's work out or in, and who comes and goes.
MANAGED = re.compile(r"(GET|POST) /api/archives.*|(GET|POST|DELETE) /api/pairing-codes.*|POST /api/guest-links"
                     r"|(PATCH|DELETE) /api/devices/.*|DELETE /api/counters/.*")  # fmt: skip
# What a proxy adds to a request that it passes on.
PROXIED = re.compile(
    r"via|forwarded|x-real-ip|x-forwarded-.*|x-client-ip|true-client-ip|cf-connecting-ip", re.IGNORECASE
)


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
    forwarded = any(PROXIED.fullmatch(name) for name in request.headers.keys())  # noqa: SIM118
    return is_loopback(request.remote_addr) and name_of(request.host) in LOOPBACK and not forwarded


def this_device() -> devices.KnownDevice | None:
    """Return the device that asks; ``None`` for this computer, which needs no token, and for strangers."""
    return None if is_this_computer() else devices.known_device(workspace(), request.cookies.get(COOKIE))


def only_let_in() -> AnyResponse | None:
    """Refuse requests from elsewhere without the token of a device that was let in, and what its role may not do."""
    if is_this_computer() or request.path in (PAGE, DISPLAY):
        return None
    device = g.device = this_device()
    if device is not None and device.role == "display" and not _is_watched():
        return _refusal("only-watching", "This display only shows the brew.", "Let the device in to do more.", 403)
    if device is not None and device.role == "barista" and MANAGED.fullmatch(f"{request.method} {request.path}"):
        return _refusal(
            "manager-only", "Only a manager's device may do this.",
            "Do it on the computer that runs Hakari, or make this device a manager there, under Devices.", 403,
        )  # fmt: skip
    if device is not None:
        return None
    if request.path.startswith("/api/"):
        return _refusal("not-let-in", "This device is not let in.", f"Open {PAGE} and type a code.", 401)
    station = {"next": request.path} if STATION.fullmatch(request.path) else {}
    return redirect(f"{PAGE}?{urlencode(station)}" if station else PAGE, 303)


def _is_watched() -> bool:
    """Whether a request is one that a display may make: of the brew that runs at its counter, or of the page itself."""
    if request.method not in ("GET", "HEAD"):
        return False
    if WATCHED.fullmatch(request.path):
        return True
    brew, plan = WATCHED_BREW.fullmatch(request.path), WATCHED_PLAN.fullmatch(request.path)
    if brew is None and plan is None:
        return False
    shown = displayed_brew(workspace())
    return (brew is not None and int(brew[1]) == shown.brew_id) or (plan is not None and int(plan[1]) == shown.plan_id)


def still_let_in() -> Callable[[], bool]:
    """Return a question to ask while a long answer is given: whether whoever asked for it may still hear it."""
    if is_this_computer():
        return lambda: True
    ws, token = workspace(), request.cookies.get(COOKIE)
    return lambda: devices.known_device(ws, token) is not None


def display_page() -> Response:
    """Open the brew's display by the key in its link; a device that is let in stays what it is."""
    key = request.args.get("key", "")[:100]
    already = this_device()
    display = devices.known_device(workspace(), key)
    if not is_this_computer() and already is None and (display is None or display.role != "display"):
        return _refusal("link-withdrawn", "This link is not valid any more.", "Ask for a new one, under Devices.", 403)
    # A step of the page's own: a browser that came by a link from elsewhere would not send a strict cookie along.
    answer = Response('<!doctype html><meta http-equiv="refresh" content="0;url=/brew"><title>Hakari</title>',
                      mimetype="text/html")  # fmt: skip
    if display is not None and already is None and not is_this_computer():
        _keep_token(answer, key)
    return answer


def _keep_token(answer: AnyResponse, token: str) -> None:
    answer.set_cookie(
        COOKIE, token, max_age=COOKIE_S, httponly=True, samesite="Strict", secure=serving().https, path="/"
    )


def pairing_page() -> AnyResponse:
    """Show the form; a code in the address fills it in, so that scanning takes one more tap.

    A device that is in already goes on to where the link leads.
    """
    leads_to = request.values.get("next", "")
    leads_to = leads_to if STATION.fullmatch(leads_to) else "/"
    known = this_device()
    if request.method == "GET" and known is not None and known.role != "display":
        return redirect(leads_to, 303)
    if request.method == "GET":
        return _page(request.args.get("code", ""), leads_to)
    typed = request.form.get("code", "")[:40]
    try:
        role = codes().redeem(typed, request.remote_addr or "")
    except InputError as error:
        return _page(typed, leads_to, error, 429 if isinstance(error, GuessedTooOftenError) else 403)
    token = devices.let_in(workspace(), request.form.get("name", ""), role)
    current_app.extensions["known_tokens"].look()
    answer = redirect(leads_to, 303)
    _keep_token(answer, token)
    return answer


def _refusal(code: str, message: str, remedy: str, status: int) -> Response:
    body = ErrorDocument(code=code, message=message, remedy=remedy).model_dump_json()
    return Response(body, status=status, mimetype="application/json")


def _page(code: str, leads_to: str, error: InputError | None = None, status: int = 200) -> Response:
    agent = request.headers.get("User-Agent", "")
    name = "Tablet" if "iPad" in agent or "Tablet" in agent else "Phone" if "Mobi" in agent else "Computer"
    said = f'<p class="trouble" role="alert"><b>{escape(error.message)}</b> {escape(error.remedy)}</p>' if error else ""
    html = _PAGE.format(code=escape(code, quote=True), name=name, said=said, leads_to=leads_to)
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
<input type="hidden" name="next" value="{leads_to}">
<label for="code">Code</label>
<input id="code" name="code" value="{code}" required maxlength="20" autocapitalize="characters" spellcheck="false" autofocus>
<label for="name">Call this device</label>
<input id="name" class="name" name="name" value="{name}" maxlength="60">
<button type="submit">Let this device in</button>
</form></main></body></html>
"""
