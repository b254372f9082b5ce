"""What the bodies of Python's functions tell of what they give."""

import ast
import unittest

from zarbek.core.sources.languages.python.function_bodies import made_type, read_body

#: A function, and what it makes.
FUNCTIONS = [
    ("def f(): return Ship()", "Ship"),
    ("def f(): return sea.Ship(1).leave()", ""),
    ("def f():\n ship = sea.Ship()\n ship.leave()\n return ship", "sea.Ship"),
    ("def f():\n if a:\n  return None\n return Ship()", "Ship"),
    ("def f():\n if a:\n  return Boat()\n return Ship()", ""),
    ("def f():\n try:\n  return Ship()\n except KeyError:\n  return Boat()", ""),
    ("def f():\n match a:\n  case 1:\n   return Ship()\n  case _:\n   return 2", ""),
    ("def f():\n it = Ship()\n it = load()\n return it", ""),
    ("def f():\n it = Ship()\n for it in all(): pass\n return it", ""),
    ("def f():\n it, more = pair()\n it = Ship()\n return it", ""),
    ("def f():\n with open() as it: pass\n it = Ship()\n return it", ""),
    ("def f():\n a = b\n b = a\n return a", ""),
    ("def f(it=None):\n it = Ship()\n return it", ""),
    ("def f(Ship): return Ship()", ""),
    ("def f():\n from sea import Ship\n return Ship()", ""),
    ("def f():\n class Ship: pass\n return Ship()", ""),
    ("def f():\n def g(): return Ship()\n return g", ""),
    ("def f(): return build()", ""),
    ("def f(): return self.Ship()", ""),
    ("def f(self):\n self.x = 1\n return self", "Self"),
    ("def f(cls): return cls(1)", "Self"),
    ("def f() -> int: return Ship()", ""),
    ("def f(): pass", ""),
    ("def f(): return None", ""),
    ("def f():\n yield Ship()\n return 3", "Ship"),
    ("def f():\n ship = Ship()\n try:\n  yield ship\n finally:\n  ship.end()", "Ship"),
    ("def f():\n a = yield Ship()", "Ship"),
    ("def f():\n yield from Ship()", ""),
    ("async def f(): return Ship()", "Ship"),
]


class Made(unittest.TestCase):
    def test_is_what_every_end_of_a_function_makes(self):
        for source, made in FUNCTIONS:
            with self.subTest(source):
                node = ast.parse(source).body[0]
                self.assertEqual(made_type(node, read_body(node)), made)

    def test_generators_yield_wherever_they_do(self):
        for source, is_one in [
            ("try: pass\n except E:\n  yield 1", True),
            ("x = yield", True),
            ("def g(): yield 1", False),
        ]:
            with self.subTest(source):
                node = ast.parse(f"def f():\n {source}").body[0]
                self.assertEqual(read_body(node).is_generator, is_one)
