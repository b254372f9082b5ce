"""What descriptions refer to elsewhere: which of it is asked for, and where that ends."""

import json
import unittest

from zarbek.core.sources.interfaces import remote_documents
from zarbek.core.sources.interfaces.documents import Document
from zarbek.core.sources.interfaces.remote_documents import FetchFailed, fetch_referred, is_allowed, references_of

HOME = ["https://sea.example/schemas/all.json"]


def refers(*references):
    return json.dumps({"all": [{"$ref": r} for r in references]})


class Allowed(unittest.TestCase):
    def test_below_the_same_folder_of_the_same_server(self):
        for address in ("https://sea.example/schemas/a.json", "https://sea.example/schemas/deep/b.json"):
            self.assertEqual((address, is_allowed(address, HOME)), (address, True))

    def test_nothing_else(self):
        for address in (
            "http://sea.example/schemas/a.json", "https://sea.example.evil/schemas/a.json", "https://sea.example/other/a.json",
            "https://sea.example/schemas/../secret.json", "https://me@sea.example/schemas/a.json", "file:///schemas/a.json",
            "https://sea.example:8443/schemas/a.json", "https://sea.example/schemasX/a.json", "schemas/a.json", "",
        ):  # fmt: skip
            self.assertEqual((address, is_allowed(address, HOME)), (address, False))
        self.assertEqual(is_allowed("https://sea.example/schemas/a.json", []), False)


class Fetching(unittest.TestCase):
    def fetch(self, start, known):
        self.asked = []

        def fetch(address):
            self.asked.append(address)
            if address not in known:
                raise FetchFailed("it answered 404")
            return known[address].encode()

        return dict(fetch_referred([("", Document("a.json", start))], fetch, HOME))

    def test_what_is_fetched_refers_on_and_each_is_asked_once(self):
        base = "https://sea.example/schemas/"
        found = self.fetch(
            refers(f"{base}a.json#/x", f"{base}a.json#/y", "near.json", "#/here"),
            {
                f"{base}a.json": refers("b.json", "a.json", "https://land.example/c.json"),
                f"{base}b.json": refers("a.json"),
            },
        )
        self.assertEqual(self.asked, [f"{base}a.json", f"{base}b.json"])
        self.assertEqual({type(data) for data in found.values()}, {bytes})

    def test_what_cannot_be_had_or_read_says_why(self):
        base = "https://sea.example/schemas/"
        found = self.fetch(refers(f"{base}gone.json", f"{base}bad.json"), {f"{base}bad.json": "{"})
        self.assertEqual(found[f"{base}gone.json"], "it answered 404")
        self.assertRegex(found[f"{base}bad.json"], "no JSON")

    def test_there_is_an_end(self):
        base = "https://sea.example/schemas/"
        endless = {f"{base}{n}.json": refers(f"{n + 1}.json") for n in range(remote_documents.MAX_DOCUMENTS + 50)}
        found = self.fetch(refers(f"{base}0.json"), endless)
        self.assertLessEqual(len(self.asked), remote_documents.MAX_DOCUMENTS)
        self.assertRegex([why for why in found.values() if isinstance(why, str)][-1], "^more than .* are referred to$")

    def test_references_in_order_each_once(self):
        document = Document("a.json", refers("b.json#/x", "#/y", "c.json", "b.json"))
        self.assertEqual(references_of(document), ["b.json", "c.json"])


if __name__ == "__main__":
    unittest.main()
