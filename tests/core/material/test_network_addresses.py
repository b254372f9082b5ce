"""Addresses are judged by what they reach."""

import ipaddress
import unittest
from unittest import mock

from hypothesis import given
from hypothesis import strategies as st

from zarbek.core.errors import GitRefused
from zarbek.core.material.git_repository import reach
from zarbek.core.material.network_addresses import HostRefused, is_outside, resolve

INSIDE = (
    "127.0.0.1", "10.0.0.8", "192.168.1.1", "172.16.0.1", "169.254.169.254", "100.64.0.1", "0.0.0.0", "224.0.0.1", "255.255.255.255",
    "::1", "::", "fe80::1", "fc00::1", "fec0::1", "ff02::1", "::ffff:127.0.0.1", "::127.0.0.1", "64:ff9b::7f00:1", "64:ff9b::a00:8",
    "64:ff9b:1::a00:8", "2002:7f00:1::", "2002:a00:8::1", "2001:0:0:0:0:0:f5ff:fff7", "::ffff:0:7f00:1", "2001:db8::1",
)  # fmt: skip
OUTSIDE = ("93.184.216.34", "2606:2800:220:1::1", "64:ff9b::5db8:d822", "::ffff:93.184.216.34")


class Addresses(unittest.TestCase):
    def test_what_reaches_a_private_network_is_not_outside(self):
        for address in INSIDE:
            with self.subTest(address):
                self.assertFalse(is_outside(ipaddress.ip_address(address)))

    def test_the_open_net_is(self):
        for address in OUTSIDE:
            with self.subTest(address):
                self.assertTrue(is_outside(ipaddress.ip_address(address)))

    @given(st.ip_addresses(v=4), st.sampled_from(["::ffff:0:0", "64:ff9b::", "::"]))
    def test_an_address_that_holds_another_is_judged_alike(self, inner, prefix):
        outer = ipaddress.IPv6Address(int(ipaddress.IPv6Address(prefix)) | int(inner))
        if not is_outside(inner):
            self.assertFalse(is_outside(outer))

    def test_one_private_address_of_several_is_enough_to_refuse_a_host(self):
        found = [(2, 1, 6, "", ("93.184.216.34", 0)), (2, 1, 6, "", ("10.0.0.8", 0))]
        with mock.patch("socket.getaddrinfo", return_value=found), self.assertRaises(HostRefused):
            resolve("both.example", [])


class Git(unittest.TestCase):
    def test_git_connects_to_the_address_that_was_judged_and_goes_nowhere_else(self):
        found = [(2, 1, 6, "", ("93.184.216.34", 0))]
        with mock.patch("socket.getaddrinfo", return_value=found):
            remote = reach("https://git.example/a.git", [])
            self.assertIn("http.followRedirects=false", remote.options)
            self.assertIn("http.curloptResolve=git.example:443:93.184.216.34", remote.options)
            self.assertEqual(remote.environment["GIT_ALLOW_PROTOCOL"], "https")
            over_ssh = reach("ssh://git@git.example/a.git", [])
            self.assertIn("HostName=93.184.216.34", over_ssh.environment["GIT_SSH_COMMAND"])

    def test_addresses_that_are_none(self):
        for address in (
            "https://[::1",
            "https://a:99999999/x",
            "https://",
            "ssh://[fe80::1]/x",
            "https://[64:ff9b::7f00:1]/x",
        ):
            with self.subTest(address), self.assertRaises(GitRefused):
                reach(address, [])


if __name__ == "__main__":
    unittest.main()
