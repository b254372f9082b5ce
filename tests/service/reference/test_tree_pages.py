"""Pages that another program has written, in the portal."""

import time
import unittest
import uuid

from tests.support.running import running
from zarbek.client.errors import PortalProblem

FRAME = "<p>Pontoon 1.0, written by the works</p>"
DECK = """<html lang=en><head><title>Deck - Pontoon</title><script>alert(1)</script></head><body onload="alert(2)">{}
<h1>Deck</h1><p>Rests on <a href="parts/float.html#float%20body">floats</a>,
<a href="parts/float.html#gone">what is gone</a>, <a href="Deck.html">itself</a>, <a href="javascript:alert(3)">nothing</a>, <img src="deck.png" alt="a deck">
<img src="http://elsewhere.example/spy.png" alt="spy"><h2 id="moor(int, char)">moor</h2><pre>moor(1);</pre></body></html>"""
FLOAT = '<html><title>Float - Pontoon</title>{}<h1>Float</h1><a name="float body"></a><p>Floats. <a href="..">All</a>.'
INDEX = "<html><title>All - Pontoon</title>{}<h1>All</h1><ul><li><a href=deck.html>Deck</a><li><a href=parts/float.html>Float</a></ul>"


class TreePages(unittest.TestCase):
    @classmethod
    def setUpClass(cls):
        cls.portal, cls.slug = running(), f"tree{uuid.uuid4().hex[:6]}"
        cls.files = {"index.html": INDEX.format(FRAME), "deck.html": DECK.format(FRAME), "deck.png": "picture",
                     "parts/float.html": FLOAT.format(FRAME)}  # fmt: skip
        cls.portal.publish(cls.files, cls.slug, "1.0")

    def page(self, path, slug=""):
        return self.portal.client.guide(slug or self.slug, path)

    def test_a_page_in_our_own_form_with_its_links_and_places(self):
        page = self.page("deck.html")
        guide = f"/guide/{self.slug}/1.0"
        self.assertEqual((page.title, page.following.path), ("Deck", "parts/float.html"))
        self.assertIn(f'href="{guide}/parts/float.html#float%20body"', page.html)
        self.assertIn(f'src="/api/v1/assets/{self.slug}/1.0/deck.png"', page.html)
        self.assertIn('id="moor(int, char)"', page.html)
        self.assertEqual([h.anchor for h in page.headings], ["moor(int, char)"])
        for word in ("alert", "onload", 'src="http', "written by the works"):
            self.assertNotIn(word, page.html)
        self.assertIn('id="float body"', self.page("parts/float.html").html)
        self.assertIn(f'href="{guide}/index.html"', self.page("parts/float.html").html)

    def test_a_page_that_did_not_change_is_kept_once(self):
        changed = self.files["deck.html"].replace("moor(1)", "moor(2)")
        slug = f"{self.slug}b"
        self.portal.publish(self.files, slug, "1.0")
        self.portal.publish({**self.files, "deck.html": changed}, slug, "1.1")
        self.assertIn("2", self.page("deck.html", slug).html)
        told = self.portal.in_service(
            "from collections import Counter; from zarbek.service.content.models import PageContent; "
            f"print(sorted(Counter(PageContent.objects.filter(project__slug='{slug}')"
            ".values_list('path', flat=True)).items()))"
        )
        self.assertEqual(told.stdout.strip(), "[('deck.html', 2), ('index.html', 1), ('parts/float.html', 1)]")

    def test_the_original_can_do_nothing(self):
        address = self.page("deck.html").original
        answer = self.portal.http.get(address)
        self.assertIn("alert(1)", answer.text)
        rules = answer.headers["Content-Security-Policy"].split("; ")
        self.assertEqual(
            (rules[:2], answer.headers["X-Content-Type-Options"]), (["sandbox", "default-src 'none'"], "nosniff")
        )
        self.assertEqual(
            self.portal.http.get(address.replace("deck.html", "deck.png")).headers["Content-Type"], "image/png"
        )
        self.assertEqual(self.portal.http.get(address.replace("/deck.html", "/parts/none.html")).status_code, 404)
        self.assertEqual(self.portal.http.get(address.replace("/deck.html", "/parts/../index.html")).status_code, 200)

    def test_the_original_of_what_not_everybody_may_read(self):
        slug = f"{self.slug}c"
        self.portal.publish(self.files, slug, "1.0")
        self.portal.client.set_visibility(slug, "teams")
        self.addCleanup(self.portal.client.set_visibility, slug, "public")
        address = self.page("deck.html", slug).original
        self.assertEqual(self.portal.http.get(address).status_code, 404)
        moved = self.portal.api("GET", address.removeprefix("/api/v1"))
        self.assertEqual(moved.status_code, 302)
        keyed = moved.headers["Location"]
        self.assertEqual(self.portal.http.get(keyed.replace("deck.html", "deck.png")).content, b"picture")
        self.assertEqual(self.portal.http.get(keyed.replace(f"/{slug}/", f"/{self.slug}/")).status_code, 404)
        self.assertEqual(self.portal.http.get(keyed.replace("/~", "/~1")).status_code, 404)

    def test_search_leads_to_the_section(self):
        hits = self.portal.client.search("floats", project=self.slug)
        self.assertEqual(hits[0].href, f"/guide/{self.slug}/1.0/parts/float.html")
        hits = self.portal.client.search("moor", project=self.slug)
        self.assertEqual([(h.name, h.href) for h in hits],
                         [("moor", f"/guide/{self.slug}/1.0/deck.html#moor%28int%2C%20char%29")])  # fmt: skip
        self.assertEqual(hits[0].summary, "Deck: moor(1);")

    def test_what_a_page_declares_is_a_symbol_for_all(self):
        slug = f"{self.slug}d"
        members = "".join(
            f'<dl><dt id="{slug}.Deck.{name}">{name}(line)<dd>Moor it fast.</dl>' for name in ("moor", "tie")
        )
        deck = f'<dl><dt id="{slug}.Deck">class {slug}.Deck(name)<dd><p>A deck that floats.{members}</dl>'
        self.portal.publish({**self.files, "api.html": f"<title>{slug}</title><h1>{slug}</h1>{deck}"}, slug, "1.0")
        page = self.portal.client.symbol(slug, f"{slug}.Deck.moor")
        self.assertEqual((page.kind, page.summary, page.language), ("method", "Moor it fast.", "python"))
        place = f"/guide/{slug}/1.0/api.html#{slug}.Deck.moor"
        self.assertEqual((page.place.href, page.place.certainty), (place, "declared"))
        told = [(e.kind, e.href, e.anchor) for e in self.page("api.html", slug).elements]
        self.assertEqual(told, [
            (kind, f"/ref/{slug}/1.0/{slug}.{name}", f"{slug}.{name}")
            for kind, name in (("class", "Deck"), ("method", "Deck.moor"), ("method", "Deck.tie"))
        ])  # fmt: skip
        hits = [hit.href for hit in self.portal.client.search("moor", project=slug) if "Deck.moor" in hit.href]
        self.assertEqual(hits, [f"/ref/{slug}/1.0/{slug}.Deck.moor"], "once, as what it is")
        other = f"{slug}e"
        text = f'def sail():\n    """Sail; see :meth:`{slug}.Deck.tie` and :meth:`{slug}.Deck.gone`."""\n'
        self.portal.publish({f"{other}.py": text}, other, "1.0")
        found = self.portal.client.report(other).new
        self.assertEqual([(f.rule, f.text) for f in found], [("dangling/symbol", f"{slug}.Deck.gone")])
        self.assertIn(f"/ref/{slug}/1.0/{slug}.Deck.tie", self.portal.client.symbol(other, f"{other}.sail").summary)

    def test_links_that_lead_nowhere_are_found(self):
        found = self.portal.client.report(self.slug, "1.0").new
        self.assertEqual([(f.rule, f.file, f.line, f.message, f.suggestion) for f in found], [
            ("dangling/anchor", "deck.html", 3, "The page parts/float.html has no section gone.", ""),
            ("dangling/page", "deck.html", 3, "There is no page Deck.html; deck.html differs in case only.", "deck.html"),
        ])  # fmt: skip
        groups = {group.key for group in self.portal.client.finding_groups(project=self.slug)}
        self.assertIn(f"{self.slug}/parts/float.html#gone", groups, "two places of one page are two targets")

    def test_what_a_text_has_several_times_is_one_finding_with_its_places(self):
        slug = f"{self.slug}f"
        twice = '<a href="gone.html#a">one</a> <a href="gone.html#a">two</a> <a href="gone.html">three</a>'
        pages = {"index.html": INDEX.format(twice), "deck.html": "<p>Deck", "parts/float.html": "<p>Float"}
        self.portal.publish(pages, slug, "1.0")
        found = self.portal.client.report(slug, "1.0")
        told = [(f.target, f.message, f.places, f.text) for f in found.new]
        self.assertEqual(told, [(f"{slug}/gone.html#a", "There is no page gone.html.", 2, "one"),
                                (f"{slug}/gone.html", "There is no page gone.html.", 1, "three")])  # fmt: skip
        groups = self.portal.client.finding_groups(project=slug)
        self.assertEqual([(g.key, g.count, g.places) for g in groups if "gone" in g.key],
                         [(f"{slug}/gone.html#a", 1, 2), (f"{slug}/gone.html", 1, 1)])  # fmt: skip
        self.assertEqual(found.counts.dangling, 3)

    def test_an_address_of_the_web_leads_to_the_portal_once_it_holds_the_tree(self):
        slug, guide = f"{self.slug}g", f"{self.slug}h"
        address = f"https://docs.halmere.example/{slug}/1.x/"
        text = f"# Berths\n\nSee [decks]({address}deck.html#moor(int,%20char)) and [sinking]({address}sink.html).\n"
        self.portal.publish({"docs/berths.md": text}, guide, "1.0")
        self.assertIn(f'href="{address}sink.html"', self.portal.client.guide(guide, "berths").html)
        project = f'[trees."."]\naddress = "{address}"\n'
        self.portal.publish({**self.files, "zarbek.toml": project}, slug, "1.0")
        for _ in range(100):
            page = self.portal.client.guide(guide, "berths")
            if page.findings:
                break
            time.sleep(0.2)
        self.assertIn(f'href="/guide/{slug}/1.0/deck.html#moor%28int%2C%20char%29"', page.html)
        self.assertEqual([(f.rule, f.target) for f in page.findings], [("dangling/page", f"{slug}/sink.html")])

    def test_what_a_page_says_differently_is_told_word_by_word(self):
        slug = f"{self.slug}w"
        self.portal.publish(self.files, slug, "1.0")
        deck = self.files["deck.html"].replace("<p>Rests", "<p>Never at dusk. Rests")
        self.portal.publish({**self.files, "deck.html": deck}, slug, "1.1")
        found = self.portal.client.compare_page(slug, "deck.html")
        self.assertEqual((found.old, found.new, found.was, found.more), ("1.0", "1.1", "deck.html", False))
        came = [p.text for section in found.sections for p in section.passages if p.sign == "come"]
        self.assertEqual(came, ["Never at dusk."])
        self.assertEqual(self.portal.client.compare_page(slug, "index.html", "1.0", "1.1").sections, [])
        code, out, _ = self.portal.command("compare", slug, "--page", "deck.html")
        self.assertEqual(code, 0)
        self.assertIn("(now: Never at dusk.)", out)
        with self.assertRaisesRegex(PortalProblem, "Neither 1.0 nor 1.1"):
            self.portal.client.compare_page(slug, "none.html")

    def test_a_page_that_moved_is_told_and_its_old_address_leads_on(self):
        slug = f"{self.slug}i"
        self.portal.publish(self.files, slug, "1.0")
        deck = self.files["deck.html"]
        links = {'"parts/': '"../parts/', '"deck.png"': '"../deck.png"'}
        for old, new in links.items():
            deck = deck.replace(old, new)
        index = self.files["index.html"].replace("deck.html", "decks/deck.html")
        float_ = self.files["parts/float.html"].replace('name="float body"', 'name="body"')
        moved = {"index.html": index, "decks/deck.html": deck, "deck.png": "picture", "parts/float.html": float_}
        self.portal.publish(moved, slug, "1.1")
        found = self.portal.client.compare(slug)
        self.assertEqual([(p.kind, p.path, p.was, p.gone, p.come) for p in found.pages], [
            ("moved", "decks/deck.html", "deck.html", [], []),
            ("places", "parts/float.html", "", ["float body"], ["body"]),
        ])  # fmt: skip
        self.assertEqual(self.page("deck.html", slug).path, "decks/deck.html")
        self.assertEqual(self.portal.client.guide(slug, "deck.html", "1.0").path, "deck.html")
        code, out, _ = self.portal.command("compare", slug)
        self.assertEqual(code, 0)
        self.assertIn("deck.html → decks/deck.html  Deck", out)


if __name__ == "__main__":
    unittest.main()
