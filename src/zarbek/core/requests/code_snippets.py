"""A request as a command, as a message, and as client code that can be run as it stands."""

from __future__ import annotations

import json
import shlex
from collections.abc import Callable

import msgspec

from zarbek.core.model.web_address import split_address
from zarbek.core.requests.http_request import Call


class Snippet(msgspec.Struct, frozen=True):
    """language: of the highlighter. label: what readers choose by."""

    label: str
    language: str
    text: str


def snippets_of(call: Call) -> list[Snippet]:
    """The same request in every form, in a fixed order."""
    return [Snippet(label, language, write(call)) for label, language, write in _FORMS]


def _curl(call: Call) -> str:
    parts = [f"curl --request {call.method} {shlex.quote(call.url)}"]
    parts += [f"--header {shlex.quote(f'{name}: {value}')}" for name, value in call.headers]
    if call.body:
        parts.append(f"--data {shlex.quote(call.body)}")
    return " \\\n  ".join(parts)


def _message(call: Call) -> str:
    """RFC 9112, section 2.1. Line ends are shown as such, not as the two characters that are sent."""
    place = split_address(call.url)
    target = (place.path or "/") + (f"?{place.query}" if place.query else "")
    lines = [f"{call.method} {target} HTTP/1.1", f"Host: {place.netloc}"]
    lines += [f"{name}: {value}" for name, value in call.headers]
    if call.body:
        lines.append(f"Content-Length: {len(call.body.encode())}")
    return "\n".join(lines) + "\n\n" + call.body


def _python(call: Call) -> str:
    lines = ["import urllib.request", "", "request = urllib.request.Request(", f"    {_text(call.url)},"]
    lines.append(f"    method={_text(call.method)},")
    if call.headers:
        lines.append("    headers={")
        lines += [f"        {_text(name)}: {_text(value)}," for name, value in call.headers]
        lines.append("    },")
    if call.body:
        lines.append(f"    data={_text(call.body)}.encode(),")
    lines += [
        ")",
        "with urllib.request.urlopen(request) as response:",
        "    print(response.status, response.read().decode())",
    ]
    return "\n".join(lines)


def _javascript(call: Call) -> str:
    options = [f"  method: {_text(call.method)},"]
    if call.headers:
        options.append("  headers: {")
        options += [f"    {_text(name)}: {_text(value)}," for name, value in call.headers]
        options.append("  },")
    if call.body:
        options.append(f"  body: {_text(call.body)},")
    inside = "\n".join(options)
    asked = f"const response = await fetch({_text(call.url)}, {{\n{inside}\n}});"
    return f"{asked}\nconsole.log(response.status, await response.text());"


def _java(call: Call) -> str:
    body = (
        f"HttpRequest.BodyPublishers.ofString({_text(call.body)})"
        if call.body
        else "HttpRequest.BodyPublishers.noBody()"
    )
    headers = "".join(f"\n            .header({_text(name)}, {_text(value)})" for name, value in call.headers)
    return f"""import java.net.URI;
import java.net.http.HttpClient;
import java.net.http.HttpRequest;
import java.net.http.HttpResponse;

public class Call {{
    public static void main(String[] args) throws Exception {{
        HttpRequest request = HttpRequest.newBuilder(URI.create({_text(call.url)}))
            .method({_text(call.method)}, {body}){headers}
            .build();
        HttpResponse<String> response =
            HttpClient.newHttpClient().send(request, HttpResponse.BodyHandlers.ofString());
        System.out.println(response.statusCode() + " " + response.body());
    }}
}}"""


def _go(call: Call) -> str:
    reader = f"strings.NewReader({_text(call.body)})" if call.body else "nil"
    imports = ["fmt", "io", "net/http", *(["strings"] if call.body else [])]
    listed = "\n".join(f'\t"{name}"' for name in imports)
    headers = "".join(f"\n\trequest.Header.Set({_text(name)}, {_text(value)})" for name, value in call.headers)
    return f"""package main

import (
{listed}
)

func main() {{
\trequest, err := http.NewRequest({_text(call.method)}, {_text(call.url)}, {reader})
\tif err != nil {{
\t\tpanic(err)
\t}}{headers}
\tresponse, err := http.DefaultClient.Do(request)
\tif err != nil {{
\t\tpanic(err)
\t}}
\tdefer response.Body.Close()
\tbody, err := io.ReadAll(response.Body)
\tif err != nil {{
\t\tpanic(err)
\t}}
\tfmt.Println(response.StatusCode, string(body))
}}"""


#: Headers that belong to the content there, not to the request.
_CONTENT_HEADERS = frozenset(("content-type", "content-encoding", "content-language", "content-location"))


def _csharp(call: Call) -> str:
    kind = next((v for n, v in call.headers if n.lower() == "content-type"), "text/plain")
    lines = [
        "using System.Net.Http;", "using System.Text;", "", "using var client = new HttpClient();",
        f"using var request = new HttpRequestMessage(new HttpMethod({_text(call.method)}), {_text(call.url)});",
    ]  # fmt: skip
    lines += [
        f"request.Headers.TryAddWithoutValidation({_text(name)}, {_text(value)});"
        for name, value in call.headers if name.lower() not in _CONTENT_HEADERS
    ]  # fmt: skip
    if call.body:
        plain = kind.partition(";")[0].strip()
        lines.append(f"request.Content = new StringContent({_text(call.body)}, Encoding.UTF8, {_text(plain)});")
    lines += [
        "using var response = await client.SendAsync(request);",
        'Console.WriteLine($"{(int)response.StatusCode} {await response.Content.ReadAsStringAsync()}");',
    ]
    return "\n".join(lines)


def _text(value: str) -> str:
    """A string literal that Python, JavaScript, Java, Go and C# read alike: JSON's escapes, no surrogates."""
    return (
        json.dumps(value, ensure_ascii=False)
        .replace("\u2028", "\\u2028")
        .replace("\u2029", "\\u2029")
        .replace("\x7f", "\\u007f")
    )


_FORMS: tuple[tuple[str, str, Callable[[Call], str]], ...] = (
    ("curl", "bash", _curl), ("HTTP", "http", _message), ("Python", "python", _python),
    ("JavaScript", "javascript", _javascript), ("Java", "java", _java), ("Go", "go", _go), ("C#", "csharp", _csharp),
)  # fmt: skip
