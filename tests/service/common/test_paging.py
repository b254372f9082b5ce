"""Cursors of lists."""

import base64
import unittest

from django.http import QueryDict
from hypothesis import given
from hypothesis import strategies as st

from tests.support.inprocess import connected


def params(**values):
    query = QueryDict(mutable=True)
    query.update(values)
    return query


class Case(unittest.TestCase):
    @classmethod
    def setUpClass(cls):
        connected()
        from zarbek.service.common import paging
        from zarbek.service.common.problems import Problem

        cls.paging, cls.problem = paging, Problem


class Cursors(Case):
    @given(st.lists(st.one_of(st.integers(0, 2**63 - 1), st.text("aä/|:%&+~", max_size=20)), min_size=1, max_size=4))
    def test_a_place_comes_back_as_it_was(self, place):
        self.assertEqual(self.paging.read_cursor(params(cursor=self.paging.make_cursor(*place))), place)

    @given(st.one_of(st.text(max_size=40), st.binary(max_size=40).map(lambda b: base64.urlsafe_b64encode(b).decode())))
    def test_any_other_word_is_refused(self, word):
        try:
            place = self.paging.read_cursor(params(cursor=word))
        except self.problem as refused:
            self.assertEqual(refused.status, 400)
        else:
            self.assertEqual(place is None, not word)

    def test_a_list_goes_on_after_the_item_that_was_last(self):
        items = [f"n{i}" for i in range(5)]
        first = self.paging.page_of_list(items, str, params(limit="2"), "/x")
        self.assertEqual((first["items"], first["total"]), (["n0", "n1"], 5))
        cursor = first["next"].partition("cursor=")[2]
        grown = ["m", *items]  # Something new before it changes nothing.
        self.assertEqual(
            self.paging.page_of_list(grown, str, params(limit="3", cursor=cursor), "/x")["items"], ["n2", "n3", "n4"]
        )
        with self.assertRaisesRegex(self.problem, "Start again"):
            self.paging.page_of_list(items[2:], str, params(cursor=cursor), "/x")


class Rows(Case):
    """Pages of a table that changes while it is read."""

    def test_rows_that_come_and_go_in_between_move_nothing(self):
        from zarbek.service.catalog.models import NameClaim, Project

        project, other = (Project.objects.create(slug=f"pg{n}") for n in "ab")
        self.addCleanup(Project.objects.filter(pk__in=[project.pk, other.pk]).delete)
        names = ["a|b", "a|b", "c", "é", "日本"]
        owners = [project, other, project, project, project]
        for name, owner in zip(names, owners, strict=True):
            NameClaim.objects.create(name=f"pg:{name}", project=owner)
        rows = NameClaim.objects.filter(name__startswith="pg:")
        found, cursor = [], ""
        for step in range(5):
            page = self.paging.page_of(
                rows, ("name", "id"), params(limit="1", **({"cursor": cursor} if cursor else {})), "/x"
            )
            found += [claim.name for claim in page["items"]]
            cursor = QueryDict((page["next"] or "").partition("?")[2]).get("cursor", "")
            if step == 1:
                NameClaim.objects.create(name="pg:a", project=project)
                rows.filter(name="pg:a|b", project=project).delete()
        self.assertEqual(found, [f"pg:{n}" for n in names])
        self.assertEqual(cursor, "")
        for wrong in (
            self.paging.make_cursor("pg:a"),
            self.paging.make_cursor(1, 1),
            self.paging.make_cursor("pg:a", "1"),
            self.paging.make_cursor("a", 1, 2),
        ):
            with self.subTest(wrong), self.assertRaises(self.problem):
                self.paging.page_of(rows, ("name", "id"), params(cursor=wrong), "/x")


if __name__ == "__main__":
    unittest.main()
