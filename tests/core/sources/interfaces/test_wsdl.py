"""WSDL 1.1 and 2.0."""

import unittest

from tests.support.interfaces import described


class Wsdl(unittest.TestCase):
    def test_1_1(self):
        symbols, findings = described(
            {
                "ports.wsdl": """<definitions name="Ports" xmlns="http://schemas.xmlsoap.org/wsdl/" xmlns:t="urn:x:ports"
              xmlns:xs="http://www.w3.org/2001/XMLSchema" targetNamespace="urn:x:ports">
              <types><xs:schema targetNamespace="urn:x:ports"><xs:element name="ask" type="xs:string"/></xs:schema></types>
              <message name="In"><part name="body" element="t:ask"/></message>
              <message name="Bad"><part name="fault" type="xs:string"/></message>
              <portType name="Ports"><operation name="Find"><documentation>Finds a port.</documentation><input message="t:In"/><fault message="t:Bad" name="none"/></operation></portType>
            </definitions>"""
            }
        )
        operation = symbols["ports.Find"].interface.operation
        self.assertEqual((operation.method, operation.body.media[0].schema), ("CALL", {"$ref": "api:ports.ask"}))
        self.assertEqual([(a.status, a.text) for a in operation.answers], [("fault", "none")])
        self.assertEqual(symbols["ports.Find"].doc.summary, "Finds a port.")
        self.assertEqual(symbols["ports.ask"].kind, "element")
        self.assertEqual(findings, [])

    def test_2_0(self):
        symbols, _ = described(
            {
                "ports.wsdl": """<description xmlns="http://www.w3.org/ns/wsdl" xmlns:t="urn:x:ports" targetNamespace="urn:x:ports">
              <interface name="P"><operation name="Find"><input element="t:ask"/><output element="t:got"/></operation></interface></description>"""
            }
        )
        self.assertEqual(
            symbols["ports.Find"].interface.operation.answers[0].media[0].schema, {"$ref": "api:ports.got"}
        )


if __name__ == "__main__":
    unittest.main()
