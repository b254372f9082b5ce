"""Overlays: actions that change a description."""

import json
import unittest

from zarbek.core.sources.interfaces.documents import Document
from zarbek.core.sources.interfaces.overlays import OverlayError, apply_overlay

SEA = {
    "info": {"title": "Sea"},
    "tags": [{"name": "a"}, {"name": "b", "x": 1}, {"name": "c", "x": 1}],
    "paths": {"/x": {"get": {}}},
}


def applied(*actions, value=SEA):
    target = Document("sea.json", json.dumps(value))
    apply_overlay(target, Document("overlay.json", json.dumps({"overlay": "1.0.0", "actions": [*actions]})))
    return target.value


class Overlays(unittest.TestCase):
    def test_an_update_is_merged_into_what_is_there(self):
        found = applied({"target": "$.info", "update": {"description": "All of it.", "title": "The sea"}})
        self.assertEqual(found["info"], {"title": "The sea", "description": "All of it."})

    def test_an_update_is_added_to_a_list(self):
        self.assertEqual(
            [t["name"] for t in applied({"target": "$.tags", "update": {"name": "d"}})["tags"]], list("abcd")
        )

    def test_lists_inside_of_an_update_grow(self):
        found = applied({"target": "$", "update": {"tags": [{"name": "d"}], "info": {"version": "1"}}})
        self.assertEqual((len(found["tags"]), found["info"]), (4, {"title": "Sea", "version": "1"}))

    def test_every_match_is_removed_and_nothing_else(self):
        self.assertEqual([t["name"] for t in applied({"target": "$.tags[?@.x]", "remove": True})["tags"]], ["a"])

    def test_actions_follow_one_another(self):
        found = applied({"target": "$.paths['/x'].get", "update": {"summary": "Old"}},
                        {"target": "$..[?@.summary == 'Old']", "update": {"summary": "New"}})  # fmt: skip
        self.assertEqual(found["paths"]["/x"]["get"], {"summary": "New"})

    def test_what_matches_nothing_changes_nothing(self):
        self.assertEqual(applied({"target": "$.nothing.here", "remove": True}, "no action", {"target": "$"}), SEA)

    def test_what_cannot_be_applied_says_which_action(self):
        with self.assertRaisesRegex(OverlayError, r"^action 2: 'tags\[' is no JSONPath"):
            applied({"target": "$.info", "update": {}}, {"target": "tags[", "remove": True})
        with self.assertRaisesRegex(OverlayError, r"^action 1 would remove the whole description$"):
            applied({"target": "$", "remove": True})


if __name__ == "__main__":
    unittest.main()
