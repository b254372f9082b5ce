"""Templates, filled with access to nothing."""

import unittest

from zarbek.core.errors import UnreadableText
from zarbek.core.sources.datamodels.settings import CallMeaning
from zarbek.core.sources.datamodels.templates import MAX_TEXT, Templates, is_template

CALLS = {"stored": CallMeaning(table="sea.{1}"), "of": CallMeaning(table="{schema}.{1}"), "note": CallMeaning()}
MACROS = """{#* Hours of a span.
    @param begin  the earlier #}
{% macro hours(begin, end='now') %}({{ end }} - {{ begin }}) / {{ per() }}{% endmacro %}
{% macro per() %}3600{% endmacro %}
"""


class Filling(unittest.TestCase):
    def setUp(self):
        self.templates = Templates(CALLS, {"since": "2026-01-05"})

    def test_calls_macros_and_values(self):
        macros = self.templates.add_macros(MACROS)
        self.assertEqual([(m.name, m.parameters, m.line, m.comment_line) for m in macros],
                         [("hours", [("begin", ""), ("end", "'now'")], 3, 1), ("per", [], 4, 0)])  # fmt: skip
        self.assertTrue(macros[0].comment.startswith("{#* Hours"))
        text, calls, used = self.templates.fill(
            "{{ note(x=1) }}SELECT {{ hours('d') }}\nFROM {{ stored('ships') }}, {{ of('calls', schema='land') }}"
            "{% for n in ['a', 'b'] %} {{ n ~ loop.index }}{% endfor %} WHERE d > '{{ since }}'"
        )
        self.assertEqual(text, "SELECT (now - d) / 3600\nFROM sea.ships, land.calls a1 b2 WHERE d > '2026-01-05'")
        self.assertEqual(
            [(c.line, c.argument, c.table) for c in calls], [(2, "ships", "sea.ships"), (2, "calls", "land.calls")]
        )
        self.assertEqual(used, [(1, "hours")])

    def test_what_is_no_template(self):
        self.assertFalse(is_template("SELECT '{' || a"))
        self.assertTrue(is_template("SELECT {{ a }}"))

    def test_a_name_that_nobody_explains_is_told_with_its_line(self):
        with self.assertRaises(UnreadableText) as caught:
            self.templates.fill("SELECT 1\nFROM {{ raw('x') }}")
        self.assertEqual((caught.exception.line, "names raw" in str(caught.exception)), (2, True))

    def test_there_is_no_way_out_and_no_way_to_grow(self):
        double = "{% set x = x ~ x %}" * 60
        macros = (f"{{% macro m{n}() %}}{f'{{{{ m{n - 1}() }}}}' * 2 if n else ''}{{% endmacro %}}" for n in range(40))
        doubling = "".join(macros)
        for hostile in (
            "{{ ''.__class__.__mro__ }}", "{{ stored.__globals__ }}", "{{ self._TemplateReference__context }}",
            "{{ cycler }}", "{{ range(9) }}", "{% include '/etc/passwd' %}", "{% import 'x' as y %}",
            "{% extends 'x' %}", "{{ '%999999999d' % 1 }}", "{{ '{:999999999}'.format(1) }}", "{{ 'a' * 999999999 }}",
            "{{ [0] * 999999999 }}", "{{ 9 ** 99999999 }}", "{{ (9 ** 60) ** 60 }}{{ 2 ** 65 }}", f"{{% set x = 'aaaa' %}}{double}{{{{ x }}}}",
            "{% macro m(x) %}{{ x }}{{ x }}{% endmacro %}{{ " + "m(" * 30 + "'aaaaaaaa'" + ")" * 30 + " }}",
            "{% set x %}aaaaaaaa{% endset %}" + "{% set x %}{{ x }}{{ x }}{% endset %}" * 30 + "{{ x }}",
            "{{ ('x' * 2000)|replace('x', 'y' * 2000) }}", "{{ ('x' * 2000)|list|join('y' * 2000) }}",
            "{% for a in [0] * 999999 %}{% for b in [0] * 999999 %}{% endfor %}{% endfor %}",
            doubling + "{{ m39() }}",
            "{{ 1|center(999999999) }}", "{{ stored() }}", "{% if %}", "{{ lipsum(9) }}", "{% do x %}",
        ):  # fmt: skip
            with self.subTest(hostile[:60]), self.assertRaises(UnreadableText):
                self.templates.fill(hostile)

    def test_a_long_text_that_is_written_is_no_attack(self):
        self.assertEqual(len(self.templates.fill("a" * (MAX_TEXT // 2) + "{{ since }}")[0]), MAX_TEXT // 2 + 10)
