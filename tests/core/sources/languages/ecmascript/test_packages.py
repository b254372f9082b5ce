"""Which files of a package are which modules."""

import json
import unittest

from zarbek.core.sources.languages.ecmascript.packages import declared_entry, is_entry, locate_ecmascript


def located(files, **texts):
    read = {"package.json": json.dumps({"name": "sea", **texts})}
    typescript = [f for f in files if f.endswith((".ts", ".tsx", ".mts"))]
    javascript = [f for f in files if f.endswith((".js", ".mjs", ".cjs"))]
    found = locate_ecmascript(typescript, javascript, [*files, "package.json"], lambda f: read.get(f, ""))
    return {s.file: s.module for s in found}


class Packages(unittest.TestCase):
    def test_a_module_of_several_forms_is_read_once(self):
        self.assertEqual(
            list(located(["src/boat.ts", "dist/boat.d.ts", "dist/boat.js"], main="dist/boat.js")), ["src/boat.ts"]
        )
        self.assertEqual(list(located(["boat.d.ts", "boat.js"])), ["boat.d.ts"])
        self.assertEqual(list(located(["boat.js"])), ["boat.js"])

    def test_the_entry_is_the_package(self):
        found = located(["index.d.ts", "boat.d.ts"], types="index.d.ts")
        self.assertEqual(found["index.d.ts"], "sea")
        self.assertRegex(found["boat.d.ts"], r"^sea\b.*\bboat$")

    def test_the_declarations_that_a_package_names(self):
        for package, entry in (
            ({"types": "./a.d.ts", "main": "a.js"}, "a.d.ts"), ({"typings": "b.d.ts"}, "b.d.ts"), ({"main": "a.js"}, ""),
            ({"exports": {".": {"import": {"types": "./c.d.mts", "default": "./c.mjs"}}}}, "c.d.mts"), ({}, ""),
        ):  # fmt: skip
            self.assertEqual((package, declared_entry(json.dumps(package))), (package, entry))
        self.assertEqual((declared_entry("{"), declared_entry("[]")), ("", ""))

    def test_files_that_importing_the_package_reads(self):
        package = json.dumps({"name": "sea", "main": "dist/index.js"})
        self.assertEqual(
            [f for f in ("src/index.ts", "dist/index.js", "src/other.ts") if is_entry(f, package)][:2],
            ["src/index.ts", "dist/index.js"],
        )
        self.assertEqual(is_entry("src/other.ts", package), False)


if __name__ == "__main__":
    unittest.main()
