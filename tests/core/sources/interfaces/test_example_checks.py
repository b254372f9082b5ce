"""Examples that no longer fit their schemas."""

import unittest

from tests.support.interfaces import openapi

PATHS = """
paths:
  /ships:
    post:
      operationId: add
      requestBody:
        content:
          application/json:
            schema: {$ref: '#/components/schemas/Ship'}
            examples:
              %s
      responses: {'204': {description: Done.}}
components:
  schemas:
    Ship:
      type: object
      required: [name]
      properties:
        name: {type: string}
        crew: {type: integer, readOnly: true}
        port: {type: string, enum: [north, south]}
"""


def stale(example):
    _, findings = openapi(PATHS % example)
    return [(f.severity, f.line, f.message) for f in findings if f.rule == "stale/example"]


class Examples(unittest.TestCase):
    def test_one_that_fits_is_no_finding(self):
        self.assertEqual(stale("good: {value: {name: Ada, port: north}}"), [])

    def test_the_first_fault_is_told_where_it_stands(self):
        ((severity, line, message),) = stale("bad: {value: {name: 1, port: west}}")
        self.assertEqual((severity, line), ("error", 13))
        self.assertRegex(message, r"does not fit .*at /(name|port)\b.*1 more of it do not fit\.$")

    def test_what_stands_for_something_left_out_says_nothing(self):
        for value in ("''", "'...'", "null"):
            self.assertEqual((value, stale(f"short: {{value: {value}}}")), (value, []))

    def test_what_is_missing_is_told(self):
        ((_, _, message),) = stale("bad: {value: {port: north}}")
        self.assertIn("name", message)


if __name__ == "__main__":
    unittest.main()
