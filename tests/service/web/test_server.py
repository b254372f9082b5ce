"""How the server answers on a connection."""

import socket
import unittest

from zarbek.service.web.server import send_at_once


class Connections(unittest.TestCase):
    def test_no_piece_of_an_answer_waits_for_an_acknowledgement(self):
        with socket.create_server(("127.0.0.1", 0)) as listening:
            send_at_once(listening.fileno())
            with socket.create_connection(listening.getsockname()):
                accepted, _ = listening.accept()
                with accepted:
                    self.assertEqual(accepted.getsockopt(socket.IPPROTO_TCP, socket.TCP_NODELAY), 1)


if __name__ == "__main__":
    unittest.main()
