import unittest

from zarbek.core.sources.manifests.pyproject import read_pyproject
from zarbek.core.sources.manifests.reading import read_manifests


class Pyproject(unittest.TestCase):
    def test_names_ranges_and_purls(self):
        facts = read_pyproject("""
            [project]
            name = "My_Lib"
            version = "1.2"
            dependencies = ["Tide.Book>=1,<2; python_version > '3'", "plain", "with[extra]~=2.0"]
            [project.urls]
            Source = "https://git.halmere.example/my"
        """)
        self.assertEqual((facts.purl, facts.repository), ("pkg:pypi/my-lib", "https://git.halmere.example/my"))
        self.assertEqual(
            [(d.purl, d.range) for d in facts.dependencies],
            [("pkg:pypi/plain", ""), ("pkg:pypi/tide-book", "<2,>=1"), ("pkg:pypi/with", "~=2.0")],
        )

    def test_what_cannot_be_read_is_told_not_raised(self):
        self.assertEqual(read_pyproject('[project]\ndependencies = ["???"]').unreadable, ["???"])
        self.assertIn("is no TOML", read_pyproject("[").unreadable[0])
        self.assertEqual(read_pyproject("project = 3").name, "")


if __name__ == "__main__":
    unittest.main()


class Ecosystems(unittest.TestCase):
    FILES = {
        "pom.xml": "<project xmlns='http://maven.apache.org/POM/4.0.0'><parent><groupId>halmere</groupId><version>2.0</version></parent>"
        "<artifactId>berth</artifactId><properties><v>1.5</v></properties><dependencies><dependency><groupId>g</groupId>"
        "<artifactId>a</artifactId><version>${v}</version></dependency></dependencies></project>",
        "package.json": '{"name": "@halmere/board", "version": "1.0.0", "dependencies": {"left": "^1.2", "x": "file:../x"}}',
        "go.mod": "module halmere.example/mast/v2\n\nrequire (\n\texample.org/a v1.2.3 // indirect\n)\nrequire example.org/b v0.1.0\n",
        "Cargo.toml": '[package]\nname = "keel-math"\nversion = "0.3.0"\n[dependencies]\nserde = "1"\nother = {version = "~2.1", package = "real"}\n',
        "build.gradle.kts": 'group = "halmere"\nversion = "1.1"\ndependencies {\n    api("halmere:berth:[1.0,2.0)")\n    testImplementation("no:no:1")\n}\n',
        "settings.gradle.kts": 'rootProject.name = "fare"\n',
        "CMakeLists.txt": "project(hull VERSION 1.2 LANGUAGES CXX)\nfind_package(Boost 1.70 REQUIRED)\nfind_package(Sea 2...<3)\n",
        "conanfile.txt": "[requires]\nzlib/1.3\nfmt/[>=9 <11]\n[generators]\ncmake\n",
        "vcpkg.json": '{"name": "hull", "dependencies": ["a", {"name": "b", "version>=": "2.0"}]}',
        "src/Gate.csproj": "<Project><PropertyGroup><PackageId>Halmere.Gate</PackageId><Version>1.0</Version></PropertyGroup>"
        '<ItemGroup><PackageReference Include="Serilog" Version="3.0.0"/></ItemGroup></Project>',
    }

    def facts(self, *names):
        files = {name: self.FILES[name] for name in names}
        return read_manifests(sorted(files), lambda name: files.get(name, ""))

    def test_each_tells_name_version_and_dependencies(self):
        for names, purl, version, dependencies in (
            (("pom.xml",), "pkg:maven/halmere/berth", "2.0", {"pkg:maven/g/a": "1.5"}),
            (("package.json",), "pkg:npm/%40halmere/board", "1.0.0", {"pkg:npm/left": "^1.2", "pkg:npm/x": ""}),
            (("go.mod",), "pkg:golang/halmere.example/mast/v2", "",
             {"pkg:golang/example.org/a": "v1.2.3", "pkg:golang/example.org/b": "v0.1.0"}),
            (("Cargo.toml",), "pkg:cargo/keel-math", "0.3.0", {"pkg:cargo/serde": "1", "pkg:cargo/real": "~2.1"}),
            (("build.gradle.kts", "settings.gradle.kts"), "pkg:maven/halmere/fare", "1.1",
             {"pkg:maven/halmere/berth": "[1.0,2.0)"}),
            (("CMakeLists.txt",), "pkg:generic/hull", "1.2", {"pkg:generic/boost": ">=1.70", "pkg:generic/sea": ">=2,<3"}),
            (("conanfile.txt",), "", "", {"pkg:generic/zlib": "==1.3", "pkg:generic/fmt": ">=9,<11"}),
            (("vcpkg.json",), "pkg:generic/hull", "", {"pkg:generic/a": "", "pkg:generic/b": ">=2.0"}),
            (("src/Gate.csproj",), "pkg:nuget/Halmere.Gate", "1.0", {"pkg:nuget/Serilog": "3.0.0"}),
        ):  # fmt: skip
            with self.subTest(names):
                facts = self.facts(*names)
                self.assertEqual((facts.purl, facts.version), (purl, version))
                self.assertEqual({d.purl: d.range for d in facts.dependencies}, dependencies)

    def test_broken_manifests_are_told_and_lose_nothing_else(self):
        files = {"pom.xml": "<project", "package.json": "[", "Cargo.toml": self.FILES["Cargo.toml"]}
        facts = read_manifests(sorted(files), files.__getitem__)
        self.assertEqual(facts.name, "keel-math")
        self.assertEqual(len(facts.unreadable), 2)

    def test_entities_of_xml_are_refused(self):
        bomb = '<!DOCTYPE x [<!ENTITY a "aaaa">]><project><artifactId>&a;</artifactId></project>'
        self.assertIn("no readable XML", read_manifests(["pom.xml"], lambda _: bomb).unreadable[0])
