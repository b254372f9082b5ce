"""XML Schema: components, content models, samples, hostile XML."""

import unittest

from tests.support.interfaces import changes, described
from tests.support.sources import links_of

HEAD = '<xs:schema xmlns:xs="http://www.w3.org/2001/XMLSchema" xmlns="urn:x:load" xmlns:g="urn:x:goods" targetNamespace="urn:x:load" elementFormDefault="qualified">\n'
LOAD = (
    HEAD
    + """<xs:include schemaLocation="more.xsd"/>
<xs:element name="load" type="Load"><xs:annotation><xs:documentation>All of it.</xs:documentation></xs:annotation></xs:element>
<xs:element name="item" type="Item" abstract="true"/>
<xs:element name="crate" type="Crate" substitutionGroup="item"/>
<xs:complexType name="Load"><xs:sequence>
  <xs:element ref="item" maxOccurs="unbounded"/>
  <xs:choice minOccurs="0"><xs:element name="note" type="xs:string"/><xs:group ref="Marks"/></xs:choice>
</xs:sequence><xs:attribute name="no" type="xs:int" use="required"/></xs:complexType>
<xs:complexType name="Item"><xs:sequence><xs:element name="kg" type="Weight"/></xs:sequence></xs:complexType>
<xs:complexType name="Crate"><xs:complexContent><xs:extension base="Item"><xs:all><xs:element name="size" type="g:Size"/></xs:all></xs:extension></xs:complexContent></xs:complexType>
<xs:group name="Marks"><xs:sequence><xs:element name="mark" type="Wieght"/></xs:sequence></xs:group>
</xs:schema>"""
)
MORE = (
    HEAD
    + '<xs:simpleType name="Weight"><xs:restriction base="xs:decimal"><xs:minExclusive value="0"/></xs:restriction></xs:simpleType>\n</xs:schema>'
)


class Reading(unittest.TestCase):
    def test_components_and_their_content(self):
        symbols, findings = described({"load.xsd": LOAD, "more.xsd": MORE})
        self.assertEqual(findings, [])
        self.assertEqual(symbols["load.load"].kind, "element")
        self.assertEqual(symbols["load.Load"].kind, "complex type")
        self.assertEqual(symbols["load.crate"].signatures[0].text, "crate: Crate in place of item")
        self.assertEqual(symbols["load.Load.@no"].flags, ["required"])
        content = symbols["load.Load"].interface.content
        self.assertEqual(
            [(p.kind, p.name, p.most) for p in content.parts], [("element", "item", -1), ("choice", "", 1)]
        )
        crate = symbols["load.Crate"].interface.content
        self.assertEqual([(p.kind, p.target) for p in crate.parts], [("group", "load.Item"), ("all", "")])
        self.assertEqual(symbols["load.Weight"].interface.schema, {"minExclusive": "0"})
        self.assertIn('use="required"', symbols["load.Load"].interface.source)

    def test_references_are_links_and_a_slip_dangles(self):
        found = links_of({"load.xsd": LOAD, "more.xsd": MORE})
        self.assertEqual(found["load.Item.kg", "Weight"], ("linked", "load.Weight"))
        self.assertEqual(found["load.Marks.mark", "Wieght"], ("dangling", "load.Wieght"))
        self.assertEqual(found["load.Crate.size", "g:Size"][0], "outside", "of a namespace that nobody has")

    def test_samples_are_checked_against_what_declares_them(self):
        good = LOAD.replace('type="Wieght"', 'type="Weight"').replace(
            '<xs:all><xs:element name="size" type="g:Size"/></xs:all>', ""
        )
        right = '<load xmlns="urn:x:load" no="1"><crate><kg>2</kg></crate></load>'
        _, findings = described(
            {
                "load.xsd": good,
                "more.xsd": MORE,
                "samples/a.xml": right,
                "samples/b.xml": right.replace("<kg>2", "<kg>-2"),
            }
        )
        self.assertEqual([(f.rule, f.file) for f in findings], [("stale/example", "samples/b.xml")])
        self.assertIn("at kg", findings[0].message)

    def test_hostile_xml_is_refused_with_its_line(self):
        bomb = '<?xml version="1.0"?><!DOCTYPE a [<!ENTITY x "y"><!ENTITY z "&x;&x;">]><a>&z;</a>'
        outside = '<?xml version="1.0"?><!DOCTYPE a SYSTEM "file:///etc/passwd"><a/>'
        for text in (bomb, outside, "<a><b></a>", "<html/>"):
            _, findings = described({"a.xsd": text})
            with self.subTest(text[:40]):
                self.assertEqual([f.rule for f in findings], ["text/unreadable"])
                self.assertNotIn("root:", findings[0].message)


class Changes(unittest.TestCase):
    def test_what_documents_must_hold(self):
        new = LOAD.replace(
            '<xs:choice minOccurs="0">', '<xs:element name="by" type="xs:string"/><xs:choice minOccurs="0">'
        ).replace('maxOccurs="unbounded"', "")
        found = changes(
            {"load.xsd": LOAD, "more.xsd": MORE}, {"load.xsd": new, "more.xsd": MORE.replace('value="0"', 'value="1"')}
        )
        self.assertIn(("load.Load", "item stands once now; it was 1 or more times.", True), found)
        self.assertIn(("load.Load", "It holds by now, once.", True), found)
        self.assertIn(("load.Load.by", "Whoever writes Load must give it.", True), found)
