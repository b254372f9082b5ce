import unittest

from hypothesis import given
from hypothesis import strategies as st

from zarbek.core.errors import QueryError
from zarbek.core.model.bundle import Alias
from zarbek.core.model.datamodel import Column, DataModel
from zarbek.core.model.symbol import Symbol
from zarbek.core.searching.engine_port import Document, Hit
from zarbek.core.searching.marks import marks_of
from zarbek.core.searching.other_names import OtherNames
from zarbek.core.searching.query import parse_query
from zarbek.core.searching.ranking import rank
from zarbek.core.searching.terms import edge_grams, split_words, words_of


class Terms(unittest.TestCase):
    def test_names_split_where_people_hear_it(self):
        cases = {
            "camelCase": ["camel", "case"],
            "snake_case2": ["snake", "case", "2"],
            "HTTPServer": ["http", "server"],
            "a.b.C": ["a", "b", "c"],
        }
        for name, parts in cases.items():
            self.assertEqual(split_words(name), parts)

    @given(st.lists(st.from_regex(r"[\w./:()-]{0,30}", fullmatch=True), max_size=5))
    def test_words_of_several_names_are_those_of_each(self, names):
        self.assertEqual(words_of(names), list(dict.fromkeys(part for name in names for part in split_words(name))))

    @given(st.from_regex(r"[a-zA-Z_]{1,20}", fullmatch=True))
    def test_every_beginning_of_a_name_is_a_gram(self, name):
        grams = edge_grams(name)
        self.assertEqual([n for n in range(1, len(name) + 1) if name.lower()[:n] not in grams], [])


class Others(unittest.TestCase):
    def test_a_member_is_found_by_the_names_of_its_owners(self):
        others = OtherNames([
            Alias("tide.core.Gauge", "tide.Gauge"), Alias("tide.old", "tide.new"),
            Alias("tide.far.Gauge.go", "tide.Gauge.go"), Alias("tide.put", "tide.new.put(int)"),
        ])  # fmt: skip
        self.assertEqual(others.of("tide.Gauge"), ["tide.core.Gauge"])
        self.assertEqual(others.of("tide.Gauge.go"), ["tide.far.Gauge.go", "tide.core.Gauge.go"])
        self.assertEqual(others.of("tide.new.put(int)"), ["tide.put", "tide.old.put"])
        self.assertEqual(others.of("tide.Gau"), [])

    def test_a_name_handed_on_everywhere_costs_no_more_than_any(self):
        self.assertEqual(len(OtherNames(Alias(f"m{n}.A", "m.A") for n in range(500)).of("m.A.b")), 24)


class Queries(unittest.TestCase):
    def test_filters_are_taken_out_of_the_text(self):
        query = parse_query("find windows project:tidebook kind:function")
        self.assertEqual((query.words, query.project, query.kind), (("find", "windows"), "tidebook", "function"))

    def test_marks_of_tables_and_columns_are_taken_out_too(self):
        query = parse_query('port tag:"not daily" type:DECIMAL(5,2) database:sea tag:')
        self.assertEqual(
            (query.words, query.marks), (("port",), ("tag:not daily", "type:decimal(5,2)", "database:sea"))
        )
        column = Symbol("wh.sea.t.c", "c", "column", "sql", "wh.sea", "wh.sea.t", type="DECIMAL(5, 2)",
                        data=DataModel(column=Column(tags=["Clock"])))  # fmt: skip
        self.assertEqual(marks_of(column), ("database:sea", "database:wh", "database:wh.sea", "tag:clock",
                                            "type:decimal", "type:decimal(5,2)"))  # fmt: skip
        self.assertEqual(marks_of(Symbol("m.f", "f", "function", "python", "m", "m")), ())

    def test_bad_queries_say_what_is_wrong(self):
        for text in ("x" * 201, "a version:1.0"):
            with self.assertRaises(QueryError):
                parse_query(text)


class Ranking(unittest.TestCase):
    def test_a_section_in_the_place_of_its_page_and_few_of_one_page(self):
        page = Document(1, "p", "guide", "deck.html", "Deck")
        parts = [Document(1, "p", "guide", "deck.html", f"Mooring {n}", anchor=f"m{n}") for n in range(5)]
        found = rank(parse_query("mooring"), [Hit(d, 1.0) for d in (page, *parts)])
        self.assertEqual([hit.document.anchor for hit in found], ["m0", "m1", "m2"])
        found = rank(parse_query("deck"), [Hit(d, 1.0) for d in (*parts, page)])
        self.assertEqual([hit.document.anchor for hit in found], ["", "m0", "m1", "m2"])

    def test_the_name_itself_stands_first(self):
        hits = [Hit(Document(1, "p", "method", f"p.{n}", n), 1.0) for n in ("window_of", "windows", "window")]
        self.assertEqual(
            [h.document.name for h in rank(parse_query("window"), hits)], ["window", "windows", "window_of"]
        )


if __name__ == "__main__":
    unittest.main()
