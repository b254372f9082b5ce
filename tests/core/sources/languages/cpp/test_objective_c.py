"""Declarations of Objective-C in headers that C shares."""

import unittest

from zarbek.core.sources.languages.cpp.objective_c import without_objective_c

HEADER = b"""/* @class is a word here.
@class too */
int f(void);
@class Hull;
@interface Boat : Hull
- (void)sail;
@end
int g(void);
"""


class ObjectiveC(unittest.TestCase):
    def test_declarations_go_and_everything_else_stays_where_it_was(self):
        found, line = without_objective_c(HEADER)
        self.assertEqual(line, 4)
        self.assertEqual((len(found), found.count(b"\n")), (len(HEADER), HEADER.count(b"\n")))
        rows = found.split(b"\n")
        self.assertEqual((rows[1], rows[2], rows[7]), (b"@class too */", b"int f(void);", b"int g(void);"))
        self.assertEqual([row.strip() for row in rows[3:7]], [b";", b";", b"", b""])

    def test_text_without_any_is_left_alone(self):
        self.assertEqual(without_objective_c(b"int f(void);"), (b"int f(void);", 0))
        self.assertEqual(without_objective_c(b'char *a = "@class";'), (b'char *a = "@class";', 0))


if __name__ == "__main__":
    unittest.main()
