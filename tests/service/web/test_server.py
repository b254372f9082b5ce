"""How the server answers on a connection."""

import resource
import socket
import unittest
from unittest import mock

from zarbek.service.web import server
from zarbek.service.web.server import allow_many, send_at_once


class Connections(unittest.TestCase):
    def test_no_piece_of_an_answer_waits_for_an_acknowledgement(self):
        with socket.create_server(("127.0.0.1", 0)) as listening:
            send_at_once(listening.fileno())
            with socket.create_connection(listening.getsockname()):
                accepted, _ = listening.accept()
                with accepted:
                    self.assertEqual(accepted.getsockopt(socket.IPPROTO_TCP, socket.TCP_NODELAY), 1)

    def test_as_many_connections_as_the_system_has_room_for(self):
        for most, expected in ((65_536, server.MOST_CONNECTIONS), (1024, 524), (256, 100),
                               (resource.RLIM_INFINITY, server.MOST_CONNECTIONS)):  # fmt: skip
            with (mock.patch.object(resource, "getrlimit", return_value=(256, most)),
                  mock.patch.object(resource, "setrlimit") as set_to):  # fmt: skip
                self.assertEqual(allow_many(), expected)
                set_to.assert_called_once_with(resource.RLIMIT_NOFILE, (most, most))


if __name__ == "__main__":
    unittest.main()
