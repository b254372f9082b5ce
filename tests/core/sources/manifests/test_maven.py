"""pom.xml, and what Gradle's scripts say in its terms."""

import unittest

from zarbek.core.sources.manifests.gradle import read_gradle
from zarbek.core.sources.manifests.maven import read_pom

NAMESPACE = "xmlns='http://maven.apache.org/POM/4.0.0'"


def pom(inside):
    return read_pom(
        f"<project {NAMESPACE}><groupId>halmere</groupId><artifactId>berth</artifactId><version>2.0</version>{inside}</project>"
    )


def dependency(version, name="a"):
    return f"<dependency><groupId>g</groupId><artifactId>{name}</artifactId><version>{version}</version></dependency>"


class Maven(unittest.TestCase):
    def test_what_the_parent_says_is_the_childs(self):
        facts = read_pom(
            f"<project {NAMESPACE}><parent><groupId>halmere</groupId><version>3.1</version></parent><artifactId>berth</artifactId>"
            "<description> All of it. </description><scm><url>https://git.example/berth</url></scm></project>"
        )
        self.assertEqual((facts.purl, facts.version, facts.summary, facts.repository),
                         ("pkg:maven/halmere/berth", "3.1", "All of it.", "https://git.example/berth"))  # fmt: skip

    def test_properties_of_the_file_are_filled_in_and_others_are_told(self):
        facts = pom(
            "<properties><v>1.5</v></properties><dependencies>"
            + dependency("${v}") + dependency("${project.version}", "b") + dependency("${far}", "c") + dependency("[1.0,2.0)", "d")
            + "</dependencies>"
        )  # fmt: skip
        self.assertEqual([d.range for d in facts.dependencies], ["1.5", "2.0", "", "[1.0,2.0)"])
        self.assertEqual(facts.unreadable, ["c ${far}"])

    def test_hostile_and_broken_files_are_told(self):
        bomb = '<!DOCTYPE a [<!ENTITY b "x"><!ENTITY c "&b;&b;">]><project>&c;</project>'
        for text in ("<project>", bomb, "", "no xml"):
            self.assertRegex(read_pom(text).unreadable[0], "^it is no readable XML")

    def test_a_build_script_as_far_as_it_is_text(self):
        facts = read_gradle(
            'group = "halmere"\nversion "1.1"\ndescription = "All of it."\ndependencies {\n  api("g:a:[1.0,2.0)")\n'
            '  implementation \'g:b:1.0@jar\'\n  compileOnly("g:c")\n  implementation("g:d:$far")\n  testImplementation("g:no:1")\n}\n',
            'rootProject.name = "fare"\n',
        )
        self.assertEqual((facts.purl, facts.version, facts.summary), ("pkg:maven/halmere/fare", "1.1", "All of it."))
        self.assertEqual(
            {d.purl[-1]: d.range for d in facts.dependencies}, {"a": "[1.0,2.0)", "b": "1.0", "c": "", "d": ""}
        )
        self.assertEqual(read_gradle("", "").purl, "")


if __name__ == "__main__":
    unittest.main()
