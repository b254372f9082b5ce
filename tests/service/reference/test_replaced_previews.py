"""A preview that is replaced while somebody reads it is read again, as the one that took its place."""

import unittest
import uuid
from unittest import mock

from tests.support.inprocess import connected


class Replaced(unittest.TestCase):
    def setUp(self):
        self.portal, self.slug = connected(), f"rp{uuid.uuid4().hex[:6]}"
        self.publish("Old.")

    def publish(self, text):
        self.portal.publish({f"{self.slug}.py": f'"""{text}"""\n'}, self.slug, "main", preview=True)

    def read(self):
        from django.test import Client

        address = f"/api/v1/projects/{self.slug}/releases/main/symbols/{self.slug}"
        return Client(SERVER_NAME="127.0.0.1", raise_request_exception=False).get(address)

    def reading(self, before):
        """Has something happen when a page has its release and begins to read it."""
        from zarbek.service.reference import symbol_page

        kept = symbol_page.read_symbol
        return mock.patch.object(symbol_page, "read_symbol", side_effect=lambda entry: (before(), kept(entry))[1])

    def test_the_page_is_that_of_the_new_one(self):
        once = [lambda: self.publish("New.")]
        with self.reading(lambda: once.pop()() if once else None):
            answer = self.read()
        self.assertEqual((answer.status_code, answer.json()["summary"]), (200, "New."), answer.content)

    def test_what_is_never_there_is_a_fault(self):
        from zarbek.service.catalog.models import Release

        with self.reading(mock.Mock(side_effect=Release.DoesNotExist)) as read:
            self.assertEqual(self.read().status_code, 500)
        self.assertEqual(read.call_count, 2)


if __name__ == "__main__":
    unittest.main()
