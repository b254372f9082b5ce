"""Projects of other languages through the real portal: pages, texts of others, links across projects."""

import unittest
import uuid
from urllib.parse import quote

from tests.support.running import running

BASE = """
package {p};
/** A berth. */
public class Berth {{
    /** How long. @return metres */
    public double length() {{ return 1; }}
    /** Finds. */
    public Berth find(String name) {{ return this; }}
    /** Finds by number. */
    public Berth find(int number) {{ return this; }}
}}
"""
SUB = """
package {p}.deep;
import {p}.Berth;
/** A deep {{@link Berth}}; {{@link Berth#find(int)}} and {{@link Berth#gone()}}. */
public class Deep extends Berth {{
    @Override public double length() {{ return 2; }}
}}
"""
KOTLIN = """
package {k}
import {p}.Berth

/** What lies in a [Berth]: see [Berth.length] and [Berth.gone]. */
class Boat(val berth: Berth)
"""


class Pages(unittest.TestCase):
    @classmethod
    def setUpClass(cls):
        cls.portal = running()
        cls.mark = uuid.uuid4().hex[:6]
        cls.java, cls.kotlin = f"jav{cls.mark}", f"kot{cls.mark}"
        names = {"p": f"halmere.{cls.java}", "k": f"halmere.{cls.kotlin}"}
        cls.portal.publish(
            {"src/Berth.java": BASE.format(**names), "src/deep/Deep.java": SUB.format(**names),
             "pom.xml": f"<project><groupId>halmere</groupId><artifactId>{cls.java}</artifactId><version>1.0</version></project>"},
            cls.java, "1.0",
        )  # fmt: skip
        cls.portal.publish({"Boat.kt": KOTLIN.format(**names)}, cls.kotlin, "1.0")

    def page(self, slug, path):
        return self.portal.http.get(f"/api/v1/projects/{slug}/releases/1.0/symbols/{quote(path)}").json()

    def test_overloads_are_apart_and_the_signature_is_javas_own(self):
        berth = f"halmere.{self.java}.Berth"
        page = self.page(self.java, berth)
        self.assertEqual([m["name"] for m in page["members"]], ["length()", "find(String)", "find(int)"])
        member = self.page(self.java, f"{berth}.find(int)")
        text = "".join(p["text"] for p in member["signatures"][0]["text"])
        self.assertEqual((text, member["language"]), ("public Berth find(int number)", "java"))
        linked = next(p for p in member["signatures"][0]["text"] if p.get("href"))
        self.assertEqual(linked["full"], berth)

    def test_an_override_without_text_takes_that_of_its_parent(self):
        page = self.page(self.java, f"halmere.{self.java}.deep.Deep.length()")
        self.assertEqual(page["text_from"]["path"], f"halmere.{self.java}.Berth.length()")
        self.assertIn("How long.", page["summary"])
        whole = self.page(self.java, f"halmere.{self.java}.deep.Deep")
        (told,) = [d for d in whole["details"] if d["name"] == "length"]
        self.assertIn("How long.", told["summary"])

    def test_a_page_asks_the_database_no_more_often_for_many_members_and_heirs(self):
        few, many = (self.questions(count) for count in (2, 40))
        self.assertEqual(few, many)
        self.assertEqual([asked for asked in many if not 0 < asked < 60], [])

    def questions(self, count):
        """Queries of the first reading of a class and of one that replaces all its members, with count of each."""
        slug = f"{self.java}{count}"
        told, bare = ("".join(f"{t}public int m{i}() {{ return 1; }}\n" for i in range(count))
                      for t in ("/** Says. */ ", ""))  # fmt: skip
        files = {"p/Base.java": f"package {slug}.p; /** B. */ public class Base {{ {told} }}",
                 "p/Deep.java": f"package {slug}.p; /** D. */ public class Deep extends Base {{ {bare} }}"}  # fmt: skip
        for i in range(count):
            own = f"package {slug}.c{i}; import {slug}.p.Base; /** C. */ public class C extends Base {{ }}"
            files[f"c{i}/C.java"] = own
        self.portal.publish(files, slug, "1.0")
        done = self.portal.in_service(f"""
            from django.db import connection
            from django.test.utils import CaptureQueriesContext
            from zarbek.service.catalog.models import Release
            from zarbek.service.reference.symbol_page import get_symbol_page
            release = Release.objects.select_related("project").get(project__slug="{slug}")
            for path in ("Deep", "Base"):
                with CaptureQueriesContext(connection) as asked:
                    page = get_symbol_page(release, "{slug}.p." + path)
                assert len(page.subclasses) == (1 + {count} if path == "Base" else 0), page.subclasses
                assert all("Says." in str(detail.summary) for detail in page.details), page.details
                print(len(asked))
        """)
        self.assertEqual(done.returncode, 0, done.stderr)
        return list(map(int, done.stdout.split()))

    def test_a_name_without_parameters_opens_the_first_overload(self):
        self.assertEqual(self.page(self.java, f"halmere.{self.java}.Berth.find")["path"],
                         f"halmere.{self.java}.Berth.find(String)")  # fmt: skip

    def test_a_language_of_the_same_family_links_into_it(self):
        page = self.page(self.kotlin, f"halmere.{self.kotlin}.Boat")
        self.assertIn(f'href="/ref/{self.java}/1.0/halmere.{self.java}.Berth"', page["summary"])
        findings = {(f["rule"], f["target"]) for f in page["findings"]}
        self.assertEqual(findings, {("dangling/symbol", f"{self.java}/halmere.{self.java}.Berth.gone")})

    def test_search_filters_by_language(self):
        hits = self.portal.client.search("Berth", language="java", project=self.java)
        self.assertEqual({h.path for h in hits if h.name == "Berth"}, {f"halmere.{self.java}.Berth"})
        self.assertEqual(self.portal.client.search("Berth", language="rust", project=self.java), [])

    def test_types_are_stored_apart_and_the_package_lists_them(self):
        page = self.page(self.java, f"halmere.{self.java}")
        self.assertEqual([m["name"] for m in page["members"]], ["Berth"])
        names = [c["path"] for c in page["navigation"]["modules"]]
        self.assertIn(f"halmere.{self.java}.deep", names)


class Beginnings(unittest.TestCase):
    def test_a_page_whose_name_begins_like_the_module_that_defines_it(self):
        portal, slug = running(), f"beg{uuid.uuid4().hex[:6]}"
        files = {f"{slug}/__init__.py": 'from .tide import tidemaker\n__all__ = ["tidemaker"]\n',
                 f"{slug}/tide.py": 'class tidemaker:\n    """Makes tides."""\n'}  # fmt: skip
        portal.publish(files, slug, "1.0")
        page = portal.http.get(f"/api/v1/projects/{slug}/releases/1.0/symbols/{slug}.tidemaker").json()
        self.assertEqual((page["summary"], page["parent"]["path"]), ("Makes tides.", slug))


class Groups(unittest.TestCase):
    def test_a_group_is_a_page_under_its_title_with_what_it_holds(self):
        portal, slug = running(), f"hull{uuid.uuid4().hex[:6]}"
        portal.publish({"a.hpp": """
            /** @defgroup sensors Sensors of the hull
             *  See @ref readings "Readings". @{ */
            namespace hull {
            /** A gauge. */
            class Gauge { public: /** Reads. @ingroup readings */ double read() const; };
            }
            /** @} */
            """}, slug, "1.0")  # fmt: skip
        place = f"/api/v1/projects/{slug}/releases/1.0/symbols"
        page = portal.http.get(f"{place}/topic:sensors").json()
        self.assertEqual((page["name"], [m["path"] for m in page["members"]]), ("Sensors of the hull", ["hull::Gauge"]))
        self.assertIn(f'href="/ref/{slug}/1.0/topic%3Areadings"', page["summary"])
        names = [c["name"] for c in page["navigation"]["modules"]]
        self.assertEqual(names, ["hull", "Readings", "Sensors of the hull"])
        bare = portal.http.get(f"{place}/topic:readings").json()
        self.assertEqual([m["path"] for m in bare["members"]], ["hull::Gauge::read()const"])
        status, shown, told = portal.command("show", "Sensors of the hull", "--project", slug)
        self.assertEqual((status, shown.splitlines()[0]), (0, f"Sensors of the hull topic, {slug} 1.0"), told)


class Families(unittest.TestCase):
    """What a class has from others, in whatever release they stand."""

    @classmethod
    def setUpClass(cls):
        cls.portal = running()
        mark = uuid.uuid4().hex[:6]
        cls.tide, cls.boat = f"tide{mark}", f"boat{mark}"
        window = 'class Window:\n    """W."""\n    def open(self):\n        """Open it."""\n'
        own = f'from {cls.tide} import Window\nclass Hatch(Window):\n    """H."""\n    def open(self): ...\n'
        needs = f'[project]\nname = "{cls.boat}"\nversion = "1.0"\ndependencies = ["{cls.tide} >=1"]\n'
        cls.portal.publish({f"{cls.tide}.py": window}, cls.tide, "1.0")
        cls.portal.publish({"pyproject.toml": needs, f"{cls.boat}.py": own}, cls.boat, "1.0")
        cls.before = cls.page()
        cls.portal.publish({f"{cls.tide}.py": window + '    def shut(self):\n        """Shut."""\n'}, cls.tide, "1.1")

    @classmethod
    def page(cls):
        place = f"/api/v1/projects/{cls.boat}/releases/1.0/symbols/{cls.boat}.Hatch"
        return cls.portal.http.get(place).json()

    def test_members_come_from_the_release_that_is_meant_now(self):
        self.assertEqual([m["name"] for m in self.before["inherited"]], [])
        page = self.page()
        (shut,) = page["inherited"]
        self.assertEqual(
            (shut["href"], shut["origin"]), (f"/ref/{self.tide}/1.1/{self.tide}.Window.shut", f"{self.tide}.Window")
        )

    def test_a_member_has_the_summary_of_what_it_overrides_elsewhere(self):
        for page in (self.before, self.page()):
            self.assertIn("Open it.", page["members"][0]["summary"])
            self.assertIn("Open it.", page["details"][0]["summary"])

    def test_the_members_of_a_large_class_follow_its_page(self):
        slug = f"{self.boat}large"
        methods = "".join(f'    def m{i}(self):\n        """Says {i}."""\n' for i in range(45))
        self.portal.publish({f"{slug}.py": f'class Large:\n    """L."""\n{methods}'}, slug, "1.0")
        place = f"/api/v1/projects/{slug}/releases/1.0"
        page = self.portal.http.get(f"{place}/symbols/{slug}.Large").json()
        names, following = [d["name"] for d in page["details"]], page["details_next"]
        self.assertLess(len(names), 45)
        while following:
            chunk = self.portal.http.get(f"{following}&limit=15").json()
            names += [d["name"] for d in chunk["items"]]
            following = chunk["next"]
        self.assertEqual(names, [f"m{i}" for i in range(45)])
        self.assertEqual(self.portal.http.get(f"{place}/members/{slug}.Gone").status_code, 404)
        self.assertEqual(self.portal.http.get(f"{place}/members/{slug}.Large?cursor=x").status_code, 400)
