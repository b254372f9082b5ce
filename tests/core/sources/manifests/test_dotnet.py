"""Project files of .NET."""

import unittest

from zarbek.core.sources.manifests.dotnet import read_csproj


class Dotnet(unittest.TestCase):
    def test_what_it_is_called_and_needs(self):
        facts = read_csproj(
            "<Project Sdk='x'><PropertyGroup><PackageId>Halmere.Gate</PackageId><VersionPrefix>1.2</VersionPrefix>"
            "<Description>All of it.</Description></PropertyGroup><ItemGroup><PackageReference Include='A' Version='[1.0,2.0)'/>"
            "<PackageReference Include='B'><Version>3.0</Version></PackageReference><PackageReference Update='C' Version='1'/></ItemGroup></Project>",
            "Gate",
        )
        self.assertEqual(
            (facts.purl, facts.version, facts.summary, facts.file),
            ("pkg:nuget/Halmere.Gate", "1.2", "All of it.", "Gate.csproj"),
        )
        self.assertEqual(
            [(d.purl, d.range) for d in facts.dependencies], [("pkg:nuget/A", "[1.0,2.0)"), ("pkg:nuget/B", "3.0")]
        )

    def test_a_file_that_says_nothing_is_called_as_it_is(self):
        self.assertEqual(read_csproj("<Project/>", "Gate").purl, "pkg:nuget/Gate")
        old = "<Project xmlns='http://schemas.microsoft.com/developer/msbuild/2003'><PropertyGroup><AssemblyName>Old</AssemblyName></PropertyGroup></Project>"
        self.assertEqual(read_csproj(old, "Gate").purl, "pkg:nuget/Old")
        self.assertRegex(read_csproj("<Project>", "Gate").unreadable[0], "^it is no readable XML")


if __name__ == "__main__":
    unittest.main()
