"""AsyncAPI 2 and 3."""

import unittest

from tests.support.interfaces import described

ASYNC = """
asyncapi: 3.0.0
info: {title: Fleet, version: '1'}
channels:
  pos: {address: 'ships/{id}/pos', parameters: {id: {description: The ship.}}, messages: {p: {$ref: '#/components/messages/Pos'}}}
operations:
  tell: {action: send, channel: {$ref: '#/channels/pos'}}
  take: {action: receive, channel: {$ref: '#/channels/pos'}, messages: [{$ref: '#/channels/pos/messages/p'}]}
components:
  messages:
    Pos: {name: pos, headers: {type: object, required: [ship], properties: {ship: {type: string}}}, payload: {$ref: '#/components/schemas/Pos'}, examples: [{payload: {lat: north}}]}
  schemas: {Pos: {type: object, properties: {lat: {type: number}}}}
"""


class AsyncApi(unittest.TestCase):
    def test_3(self):
        symbols, findings = described({"fleet.yaml": ASYNC})
        tell = symbols["fleet.tell"].interface.operation
        self.assertEqual(
            (tell.method, tell.path, [p.name for p in tell.parameters]), ("SEND", "ships/{id}/pos", ["id"])
        )
        self.assertEqual(tell.body.media[0].schema, {"$ref": "api:fleet.messages.Pos"})
        self.assertEqual(symbols["fleet.take"].interface.operation.method, "RECEIVE")
        message = symbols["fleet.messages.Pos"].interface.answer
        self.assertEqual([(h.name, h.required) for h in message.headers], [("ship", True)])
        self.assertEqual([f.rule for f in findings], ["stale/example"])
        self.assertIn("at /lat a number was expected", findings[0].message)

    def test_2_names_things_from_the_other_side(self):
        symbols, _ = described(
            {
                "fleet.yaml": """
            asyncapi: 2.6.0
            info: {title: Fleet, version: '1'}
            channels:
              alarms:
                publish: {operationId: take, message: {oneOf: [{name: fire, payload: {type: string}}, {name: list, payload: {type: number}}]}}
                subscribe: {message: {payload: {type: boolean}}}
            """
            }
        )
        self.assertEqual(symbols["fleet.take"].interface.operation.method, "RECEIVE")
        self.assertEqual([m.name for m in symbols["fleet.take"].interface.operation.body.media], ["fire", "list"])
        self.assertIn("fleet.SEND alarms", symbols)


if __name__ == "__main__":
    unittest.main()
