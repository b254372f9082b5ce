"""XML, of which nothing is read but the file itself."""

import unittest

from zarbek.core.errors import UnreadableText
from zarbek.core.sources.interfaces.xml_parsing import local, namespace, read_xml, text_of


class Xml(unittest.TestCase):
    def refused(self, data, words, line=1):
        with self.assertRaises(UnreadableText) as caught:
            read_xml(data)
        self.assertIn(words, str(caught.exception))
        self.assertEqual(caught.exception.line, line)

    def test_names_and_text(self):
        root = read_xml(b'<s:sea xmlns:s="urn:sea"><!-- a --><crew>\n  Ada\n   and Bob </crew></s:sea>')
        self.assertEqual((local(root), namespace(root)), ("sea", "urn:sea"))
        comment, crew = root
        self.assertEqual([(local(e), namespace(e)) for e in (comment, crew)], [("", ""), ("crew", "")])
        self.assertEqual((text_of(crew), crew.sourceline), ("Ada\nand Bob", 1))

    def test_a_document_type_is_refused_whatever_it_declares(self):
        for data in (
            b"<!DOCTYPE sea><sea/>",
            b'<!DOCTYPE sea SYSTEM "http://sea.example/x.dtd"><sea/>',
            b'<!DOCTYPE sea [<!ENTITY a SYSTEM "file:///etc/passwd">]><sea>&a;</sea>',
            b'<!DOCTYPE sea [<!ENTITY a "aaaa"><!ENTITY b "&a;&a;&a;">]><sea>&b;</sea>',
        ):
            self.refused(data, "document type")

    def test_what_is_no_xml_says_where(self):
        self.refused(b"<sea>\n<crew>\n</sea>", "no XML", 3)
        self.refused(b"", "no XML")
        self.refused(b"<sea>" * 1000, "no XML")
        self.refused(b"<sea>&crew;</sea>", "no XML")


if __name__ == "__main__":
    unittest.main()
