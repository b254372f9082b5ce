"""What modules of Node.js hand on by assigning it, and members that are assigned."""

import unittest

from hypothesis import given
from hypothesis import strategies as st

from tests.support.sources import gather_files, read_as

PACKAGE = {"package.json": '{"name": "quay", "version": "1.0.0", "main": "lib/index.js"}'}
MODULES = {
    "lib/index.js": """
        'use strict';
        exports = module.exports = build;
        var tie = require('./tie'), ship = require('./ship');
        var _ropes2 = _interopRequireDefault(require('./ropes'));
        /** Builds. */
        function build() { return new Quay(); }
        function hidden() {}
        exports.later = exports.never = undefined;
        exports.tie = tie;
        exports.boat = ship;
        exports.ropes = _ropes2.default;
        exports.knots = require('./knots');
        /** Far. */
        exports.far = function (a, b) {};
        exports.near = hidden2;
        function hidden2() {}
        /** Eight. */
        exports.MOST = 8;
    """,
    "lib/tie.js": "var slice = [].slice;\n/** Ties. */\nmodule.exports = function (rope, knot) { return helper(); };\nfunction helper() {}\n",
    "lib/ship.js": """
        var ship = exports = module.exports = {};
        /** Leaves. */
        ship.leave = function leave(at) { return this; };
        var own = {};
        own.x = function () {};
    """,
    "lib/ropes.js": "function cut(a) {}\nexports.default = (0, wrapped.default)(cut, 3);\nmodule.exports = exports.default;\n",
    "lib/knots.js": "module.exports = { /** Slips. */ slip: function (a) {}, bow(b) {}, 'odd-one': function () {}, n: 1 };\n",
}
TYPES = """
    module.exports = Quay;
    /** A quay. */
    function Quay(name) { this.name = name; }
    /** Opens. */
    Quay.prototype.open = function (at) { return this; };
    Quay.build = () => new Quay();
    Quay.prototype.x = 3;
    unknown.y = function () {};
    function Wall() {}
    Wall.prototype = { /** Ends. */ end: function () {} };
    if (a) { module.exports.z = function () {}; }
"""
NAMES = st.sampled_from(
    ["a", "exports", "module.exports", "exports.b", "a.b", "a.prototype", "a.prototype.c", "{d}", "e[0]"]
)
VALUES = st.sampled_from(["function () {}", "class {}", "class A {}", "() => a", "{}", "{ a, b: 1, c() {} }", "a", "void 0",
                          "require('./a')", "require(a)", "f(a, b)", "exports", "1", "new A()", "(a)", ""])  # fmt: skip


class Modules(unittest.TestCase):
    def test_are_what_is_assigned_to_their_exports(self):
        _, index, _ = gather_files({**PACKAGE, **MODULES}, slug="quay")
        public = {p: e.kind for p, e in index.symbols.items() if e.visibility == "public" and e.kind != "module"}
        self.assertEqual(public, {
            "quay.build": "function", "quay.tie": "function", "quay.boat": "variable", "quay.boat.leave": "method",
            "quay.ropes": "function", "quay.far": "function", "quay.near": "function", "quay.MOST": "variable",
            "quay/knots.slip": "function", "quay/knots.bow": "function",
        })  # fmt: skip
        self.assertEqual(index.symbols["quay.tie"].summary, "Ties.")
        self.assertEqual(index.symbols["quay/knots.slip"].summary, "Slips.")

    def test_may_be_made_of_what_they_declare(self):
        for source in (
            "class Quay { open() {} }\nmodule.exports = new Quay(1);",
            "function Quay() {}\nmodule.exports = Object.freeze(Quay);",
        ):
            with self.subTest(source):
                _, index, _ = gather_files({**PACKAGE, "lib/index.js": source}, slug="quay")
                self.assertEqual(index.symbols["quay.Quay"].visibility, "public")

    def test_may_hand_one_thing_on_by_several_names(self):
        _, index, _ = gather_files(
            {**PACKAGE, "lib/index.js": "exports.tie = exports.bind = function (a) {};"}, slug="quay"
        )
        self.assertEqual(index.aliases, {"quay.tie": "quay.bind"})

    def test_a_package_may_be_what_another_of_its_modules_is(self):
        files = {
            "lib/index.js": "module.exports = require('./all');\n",
            "lib/all.js": "exports.tie = function () {};\n",
        }
        _, index, _ = gather_files({**PACKAGE, **files}, slug="quay")
        self.assertIn("quay.tie", index.symbols)


class Members(unittest.TestCase):
    def test_of_constructors_are_methods_of_a_class(self):
        found = {s.path.removeprefix("f."): (s.kind, s.visibility) for s in read_as(TYPES, "f.js", "f").values()}
        self.assertEqual({p: k for p, (k, _) in found.items() if k != "module"}, {
            "Quay": "class", "Quay.open": "method", "Quay.build": "method", "Wall": "class", "Wall.end": "method",
        })  # fmt: skip
        self.assertEqual(
            {p for p, (_, level) in found.items() if level == "public"}, {"f", "Quay", "Quay.open", "Quay.build"}
        )

    def test_classes_that_a_module_is_have_a_name(self):
        for source, path in (("module.exports = class Quay { open() {} }", "f.Quay.open"),
                             ("module.exports = class { open() {} }", "f.default.open"),
                             ("var Quay = (module.exports = function (a) {});\nQuay.prototype.open = function () {};", "f.Quay.open"),
                             ("exports.Quay = class { open() {} };", "f.Quay.open")):  # fmt: skip
            with self.subTest(source):
                self.assertEqual(read_as(source, "f.js", "f")[path].visibility, "public")

    @given(st.lists(st.tuples(st.lists(NAMES, min_size=1, max_size=3), VALUES), max_size=5))
    def test_any_assignments_are_read(self, statements):
        source = "var a = 1;\n" + "\n".join(" = ".join([*names, value]) + ";" for names, value in statements)
        self.assertIn("f", read_as(source, "f.js", "f"))
