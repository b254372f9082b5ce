"""Archives that are sent and gathered by the portal itself."""

import io
import tarfile
import unittest
import uuid
import zipfile

from tests.support.running import running

PAGES = {
    "api/index.html": "<title>All</title><ul><li><a href=deck.html>Deck</a><li><a href=rope.html>Rope</a></ul>",
    "api/deck.html": "<title>Deck</title><h1 id=deck>Deck</h1><p>Held by a <a href='rope.html#knot'>knot</a>.",
    "api/rope.html": "<title>Rope</title><h1 id=rope>Rope</h1>",
}


def tarred(files):
    out = io.BytesIO()
    with tarfile.open(fileobj=out, mode="w:gz") as archive:
        for name, text in files.items():
            member = tarfile.TarInfo(name)
            member.size = len(text.encode())
            archive.addfile(member, io.BytesIO(text.encode()))
    return out.getvalue()


def zipped(files):
    out = io.BytesIO()
    with zipfile.ZipFile(out, "w") as archive:
        for name, text in files.items():
            archive.writestr(name, text)
    return out.getvalue()


class Archives(unittest.TestCase):
    @classmethod
    def setUpClass(cls):
        cls.portal, cls.slug = running(), f"sent{uuid.uuid4().hex[:6]}"

    def send(self, data, kind="application/gzip", **query):
        return self.portal.api("POST", "/runs", content=data, params=query, headers={"Content-Type": kind})

    def end_of(self, answer):
        return self.portal.wait(self.portal.client.run(answer.json()["id"]))

    def test_what_an_archive_holds_is_gathered_and_shown(self):
        for version, data, kind in (
            ("1.0", tarred(PAGES), "application/gzip"),
            ("1.1", zipped(PAGES), "application/zip"),
        ):
            with self.subTest(kind):
                answer = self.send(data, kind, project=self.slug, version=version)
                self.assertEqual((answer.status_code, self.end_of(answer).state), (202, "done"))
                self.assertEqual(self.portal.client.guide(self.slug, "deck.html", version=version).title, "Deck")
        again = self.send(data, kind, project=self.slug, version=version)
        self.assertEqual((again.status_code, again.json()["id"]), (200, answer.json()["id"]))

    def test_what_cannot_be_is_refused_and_leaves_nothing(self):
        nameless = self.send(tarred(PAGES))
        self.assertEqual(nameless.status_code, 422, nameless.text)
        self.assertIn("give project and version", nameless.json()["detail"])
        self.assertEqual(self.send(tarred(PAGES), "text/html", project=self.slug, version="2").status_code, 415)
        self.assertEqual(self.send(b"no archive", project=self.slug, version="2").status_code, 422)
        broken = self.end_of(self.send(tarred(PAGES)[:100], project=self.slug, version="2"))
        self.assertIn("The archive cannot be unpacked", broken.problem)
        slug = f"{self.slug}x"
        run = self.end_of(self.send(tarred({"../out.html": "x", **PAGES}), project=slug, version="1.0"))
        self.assertEqual(run.state, "failed")
        self.assertIn("which would lie outside of it", run.problem)
        self.assertNotIn("/", run.problem.replace("../out.html", ""))
        self.assertEqual(self.portal.api("GET", f"/projects/{slug}").status_code, 404)


if __name__ == "__main__":
    unittest.main()
