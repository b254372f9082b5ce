import unittest

from tests.support.sources import symbols_of
from zarbek.core.editions.visibility import audience_of
from zarbek.core.linking.index import entry_of

SOURCE = '''
    class A:
        """A."""
        def __len__(self): ...
        def __iter__(self):
            """Iterate."""
        def _inner(self): ...
        def __init__(self):
            self.bare = 1
            self.typed: int = 2
'''


class Audiences(unittest.TestCase):
    def seen(self, **options):
        audience = audience_of(options)
        return {path for path, symbol in symbols_of(SOURCE).items() if audience.sees(entry_of(symbol))}

    def test_readers_see_what_is_public_and_documented_special_methods(self):
        self.assertEqual(self.seen(), {"m", "m.A", "m.A.__iter__", "m.A.typed"})

    def test_options_take_in_more(self):
        self.assertEqual(self.seen(special_members="true") - self.seen(), {"m.A.__len__", "m.A.__init__"})
        self.assertEqual(self.seen(visibility="private") - self.seen(), {"m.A._inner"})
        self.assertEqual(self.seen(visibility="anything"), self.seen())


if __name__ == "__main__":
    unittest.main()
