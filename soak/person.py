"""The door people use: the real server as its own processes, and a person with cookies before it."""

import http.cookiejar
import json
import urllib.error
import urllib.parse
import urllib.request
import uuid
from dataclasses import dataclass
from typing import Any

from lxml import html


class _Stay(urllib.request.HTTPRedirectHandler):
    """Redirects are answers too: they are followed by hand."""

    def redirect_request(self, *_: Any) -> None:
        return None


@dataclass(frozen=True, slots=True)
class Answer:
    """Status, text and where to go on."""

    status: int
    raw: bytes
    location: str

    @property
    def text(self) -> str:
        """The body as text."""
        return self.raw.decode("utf-8", "replace")


class Person:
    """Somebody in front of the server, with cookies."""

    def __init__(self, address: str, timeout: float = 60) -> None:
        self.address, self.timeout = address, timeout
        self.jar = http.cookiejar.CookieJar()
        self.opener = urllib.request.build_opener(
            urllib.request.HTTPCookieProcessor(self.jar), _Stay, urllib.request.ProxyHandler({})
        )

    @property
    def token(self) -> str:
        """The token that forms carry."""
        return next((c.value or "" for c in self.jar if c.name == "csrftoken"), "")

    def ask(
        self, path: str, data: bytes | None = None, headers: dict[str, str] | None = None
    ) -> Answer:
        """One request as it is."""
        sent = {"X-CSRFToken": self.token, "Referer": self.address, **(headers or {})}
        request = urllib.request.Request(self.address + path, data, sent)
        try:
            with self.opener.open(request, timeout=self.timeout) as answer:
                return Answer(answer.status, answer.read(), "")
        except urllib.error.HTTPError as error:
            return Answer(error.code, error.read(), error.headers.get("Location", ""))

    def get(self, path: str) -> Answer:
        """A page."""
        return self.ask(path)

    def post(self, path: str, fields: Any, **headers: str) -> Answer:
        """A form of fields."""
        named = {name.replace("_", "-"): value for name, value in headers.items()}
        return self.ask(path, urllib.parse.urlencode(fields, doseq=True).encode(), named)

    def upload(
        self, path: str, fields: dict[str, str], files: dict[str, tuple[str, bytes]]
    ) -> Answer:
        """A form with files, as browsers send it."""
        edge = uuid.uuid4().hex
        parts = []
        for name, value in fields.items():
            head = f'--{edge}\r\nContent-Disposition: form-data; name="{name}"\r\n\r\n'
            parts.append(head.encode() + value.encode() + b"\r\n")
        for name, (file_name, raw) in files.items():
            head = (
                f'--{edge}\r\nContent-Disposition: form-data; name="{name}"; '
                f'filename="{file_name}"\r\nContent-Type: application/octet-stream\r\n\r\n'
            )
            parts.append(head.encode() + raw + b"\r\n")
        body = b"".join([*parts, f"--{edge}--\r\n".encode()])
        return self.ask(path, body, {"Content-Type": f"multipart/form-data; boundary={edge}"})

    def enter_demo(self) -> None:
        """Through the demo's own door."""
        self.get("/log-in/")
        answer = self.post("/demo/", {})
        if answer.status != 302:
            raise RuntimeError(f"the demo's door is shut: {answer.status}")

    def bench_of(self, code: str) -> str:
        """The address of a setup of the demo."""
        shoot = html.fromstring(self.get("/shoots/").text).xpath(
            "//li[contains(@class, 'shoot')]//h2/a/@href"
        )[0]
        first = self.get(shoot).location or shoot
        page = html.fromstring(self.get(urllib.parse.urlparse(first).path).text)
        return str(page.xpath(f"//li[contains(., '{code} ')]//a/@href")[0])

    def setup(self, bench: str) -> Any:
        """A setup as its file says."""
        return json.loads(self.get(f"{bench}setup.json").text)
