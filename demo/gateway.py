"""The quayside gateway: three services behind one address, which answer as they are described.

Each serves its description without the prefix under which the gateway has it, as services do that do
not know of their gateway.
"""

from __future__ import annotations

import json
import re
from hashlib import sha256
from pathlib import Path
from typing import Any

from packaging.version import Version

_HISTORY = Path(__file__).resolve().parent / "projects" / "quayside"
KEY = "harbour-key-of-the-demo"
_SAILINGS = {
    "S-2041": {"id": "S-2041", "crossing": "HAL-SKE", "departs": "2026-06-12T07:30:00Z",
               "free": {"seats": 112, "vehicles": 9}, "ferry": "Halmere", "state": "open"},
    "S-2042": {"id": "S-2042", "crossing": "HAL-SKE", "departs": "2026-06-12T11:30:00Z",
               "free": {"seats": 1, "vehicles": 0}, "ferry": "Skerry", "state": "open"},
}  # fmt: skip
_BOOKING = {
    "reference": "BK-77120", "sailing": "S-2041", "party": [{"name": "Ida Brenn", "kind": "adult"}], "vehicle": None,
    "fare": {"amount": "48.50", "currency": "EUR"}, "state": "confirmed",
}  # fmt: skip
Answer = tuple[int, dict[str, str], Any]


def description_file(service: str) -> Path:
    """The newest release's description of a service."""
    versions = sorted((p.name for p in _HISTORY.iterdir() if p.name[:1].isdigit()), key=Version, reverse=True)
    for version in versions:
        for name in ("openapi.yaml", "openapi.json"):
            path = _HISTORY / version / "services" / service / name
            if path.is_file():
                return path
    raise FileNotFoundError(service)


def served_description(service: str) -> bytes:
    """A service's description, with addresses as the gateway has them."""
    text = description_file(service).read_text(encoding="utf-8")
    for prefix in (f"http://127.0.0.1:8099/quayside/{service}", f"/quayside/{service}"):
        text = text.replace(prefix, "/")
    return text.encode()


def answer(method: str, path: str, query: dict[str, str], headers: dict[str, str], body: bytes) -> Answer:
    """What the gateway answers. path: after ``/quayside/``."""
    service, _, rest = path.partition("/")
    if path == "common/schemas.yaml":
        return 200, {"Content-Type": "application/yaml"}, (_HISTORY / "1.0.0/services/common/schemas.yaml").read_bytes()
    if service not in ("sailings", "fares", "piers"):
        return _problem(404, "No such service")
    if rest in ("openapi.yaml", "openapi.json"):
        return _description(service, rest, headers)
    return {"sailings": _sailings, "fares": _fares, "piers": _piers}[service](method, "/" + rest, query, headers, body)


def _description(service: str, name: str, headers: dict[str, str]) -> Answer:
    if service == "piers" and headers.get("x-harbour-key") != KEY:
        return _problem(401, "The description is for those with a key")
    if description_file(service).name != name:
        return _problem(404, "The description is not here")
    data = served_description(service)
    tag = f'"{sha256(data).hexdigest()[:12]}"'
    kind = "application/yaml" if name.endswith("yaml") else "application/json"
    if headers.get("if-none-match") == tag:
        return 304, {"ETag": tag}, b""
    return 200, {"Content-Type": kind, "ETag": tag}, data


def _problem(status: int, title: str, detail: str = "") -> Answer:
    body = {"type": "https://halmere.example/problems/" + str(status), "title": title, "status": status}
    return status, {"Content-Type": "application/problem+json"}, {**body, **({"detail": detail} if detail else {})}


def _json(status: int, value: Any, **headers: str) -> Answer:
    return status, {"Content-Type": "application/json", **{k.replace("_", "-"): v for k, v in headers.items()}}, value


def _sailings(method: str, path: str, query: dict[str, str], headers: dict[str, str], body: bytes) -> Answer:
    if method == "GET" and path == "/sailings":
        crossing = query.get("crossing", "")
        if not re.fullmatch(r"[A-Z]{3}-[A-Z]{3}", crossing):
            return _problem(400, "The request cannot be understood", "crossing must be two codes, as in HAL-SKE.")
        found = [s for s in _SAILINGS.values() if s["crossing"] == crossing]
        return _json(200, found, X_Tide_Station="Halmere")
    match = re.fullmatch(r"/sailings/([^/]+)(/bookings)?", path)
    if match and match[1] not in _SAILINGS:
        return _problem(404, "No such sailing", f"{match[1]} is no sailing of this week.")
    if match and method == "GET" and not match[2]:
        return _json(200, _SAILINGS[match[1]])
    if headers.get("x-harbour-key") != KEY:
        return _problem(401, "A key is needed", "Ask shore systems for a key.")
    if match and method == "POST" and match[2]:
        return _book(match[1], body)
    match = re.fullmatch(r"/bookings/([^/]+)", path)
    if match and match[1] != _BOOKING["reference"]:
        return _problem(404, "No such booking")
    if match and method in ("GET", "PATCH"):
        return _json(200, _BOOKING)
    return _problem(404, "Nothing is here")


def _book(sailing: str, body: bytes) -> Answer:
    try:
        wanted = json.loads(body)
        party = wanted["party"]
    except (ValueError, KeyError, TypeError):
        return _problem(400, "The request cannot be understood", "A booking is JSON with a party.")
    free = _SAILINGS[sailing]["free"]["seats"]  # type: ignore[index]
    if len(party) > free:
        return _problem(422, "The sailing is full", f"{len(party)} places are asked for; {free} is free.")
    made = {**_BOOKING, "sailing": sailing, "party": party, "vehicle": wanted.get("vehicle")}
    return _json(201, made, Location="/bookings/BK-77120")


def _fares(method: str, path: str, query: dict[str, str], headers: dict[str, str], body: bytes) -> Answer:
    if method == "GET" and path.startswith("/fares/"):
        price = {"amount": "48.50", "currency": "EUR"}
        return _json(200, [{"kind": "adult", "price": price, "valid": "2026-05-01", "peak": None}])
    if method == "POST" and path == "/quotes":
        # Its total is a number where the description promises an amount: what is described must be checked.
        return _json(201, {"number": "Q-501", "total": 48.5, "until": "2026-06-13T12:00:00Z"})
    return _problem(404, "Nothing is here")


def _piers(method: str, path: str, query: dict[str, str], headers: dict[str, str], body: bytes) -> Answer:
    if method == "GET" and path == "/piers/N2":
        return _json(200, {"code": "N2", "berths": 4, "depth": 6.5})
    return _problem(404, "No such pier")
