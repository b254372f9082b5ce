"""What nothing holds any more goes, and nothing else does, whatever happens at the same time."""

import unittest
import uuid

from tests.support.running import ROOT, running

PREPARED = f"""
    import sys, time; sys.path.insert(0, {str(ROOT)!r})
    from tests.support.randomportals import publish
    from zarbek.service.catalog.actions.projects import remove_release
    from zarbek.service.catalog.models import PortalChange, Project, Release
    from zarbek.service.content.models import Asset, Block, PageContent, SymbolContent
    from zarbek.service.findings.recomputation import list_differences
    from zarbek.service.links.actions import sweeping
    from zarbek.service.links.models import LinkDocument, Sweep

    slug, other = "swept{{tag}}", "user{{tag}}"
    PNG = "<svg xmlns='http://www.w3.org/2000/svg'/>"

    def release(version, *names, picture="a"):
        text = "".join(f"def {{n}}():\\n    '''See :func:`{{names[0]}}`.'''\\n" for n in names)
        return publish(slug, version, {{
            f"{{slug}}.py": text, "docs/index.md": f"# {{version}}\\n\\n![x]({{picture}}.svg)\\n", f"docs/{{picture}}.svg": PNG + picture,
        }})

    def rows():
        return [m.objects.filter(project__slug=slug).count() for m in (SymbolContent, PageContent, Block, LinkDocument, Asset)]

    def files():
        return sorted(a.file.name for a in Asset.objects.filter(project__slug=slug))

    def remove(version):
        '''And wait until what that touches has been linked again, which changes what is held.'''
        remove_release(Release.objects.get(project__slug=slug, version=version))
        until = time.monotonic() + 60
        while PortalChange.objects.filter(project=slug, settled_at=None).exists() and time.monotonic() < until:
            time.sleep(0.1)

    def sweep():
        Sweep.objects.filter(project__slug=slug).update(state="")
        return sweeping.sweep_project(Project.objects.get(slug=slug))
"""


class Sweeping(unittest.TestCase):
    def run_in_service(self, text):
        done = running().in_service(PREPARED.replace("{tag}", uuid.uuid4().hex[:6]) + text)
        self.assertEqual(done.returncode, 0, done.stderr[-4000:])
        return done.stdout.split("\n")[:-1]

    def test_what_only_a_removed_release_had_goes_with_its_files(self):
        found = self.run_in_service("""
    from pathlib import Path
    from django.conf import settings
    release("1.0", "one")
    sweep()
    before, kept = rows(), files()
    release("2.0", "one", "two", picture="b")
    remove("2.0")
    lost = [f for f in files() if f not in kept]
    print(rows() == before, sweep() > 0, rows() == before, files() == kept)
    print([Path(settings.MEDIA_ROOT, f).exists() for f in (*lost, *kept)])
    print(list(list_differences([slug])), sweep())
        """)
        self.assertEqual(found, ["False True True True", "[False, True]", "[] 0"])

    def test_there_is_nothing_to_look_for_until_something_changes(self):
        found = self.run_in_service("""
    from unittest import mock
    release("1.0", "one")
    project = Project.objects.get(slug=slug)
    sweeping.sweep_project(project)
    with mock.patch.object(sweeping, "_held", side_effect=AssertionError):
        print(sweeping.sweep_project(project))
    release("1.1", "one", "two")
    with mock.patch.object(sweeping, "_held", side_effect=RuntimeError("looked")):
        try:
            sweeping.sweep_project(project)
        except RuntimeError as error:
            print(error)
        """)
        self.assertEqual(found, ["0", "looked"])

    def test_a_publish_between_the_look_and_the_deleting_keeps_what_it_takes_up(self):
        found = self.run_in_service("""
    release("1.0", "one"); release("2.0", "one", "two")
    remove("2.0")
    held = sweeping._held
    def hold_and_publish(project):
        found = held(project)
        sweeping._held = held
        release("3.0", "one", "two")  # It holds again what nobody held.
        return found
    sweeping._held = hold_and_publish
    sweep()
    print(list(list_differences([slug])))
    from zarbek.service.content.queries import iter_symbols
    (newest,) = Release.objects.filter(project__slug=slug, version="3.0")
    print(sorted(s.name for _, found in iter_symbols(newest.pk) for _, s in found if s.kind == "function"))
        """)
        self.assertEqual(found, ["[]", "['one', 'two']"])

    def test_links_that_are_made_while_it_deletes_are_made_again(self):
        found = self.run_in_service("""
    from zarbek.service.links.actions import keep_links
    release("1.0", "one")
    text = {f"{other}.py": f"def use():\\n    '''See :func:`{slug}.one`.'''\\n"}
    publish(other, "1.0", text)
    link, done = keep_links.relink_texts, []
    def relink(release, texts):
        new = link(release, texts)
        if not done:
            done.append(True)
            Sweep.objects.filter(project__slug=other).update(state="")
            sweeping.sweep_project(Project.objects.get(slug=other))
        return new
    keep_links.relink_texts = relink
    release("2.0", "two")
    print(done, list(list_differences([slug, other])))
        """)
        self.assertEqual(found, ["[True] []"])


if __name__ == "__main__":
    unittest.main()
