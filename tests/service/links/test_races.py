"""Publishes at the same moment: what one of them finds is never lost to another, and nothing goes live out of date."""

import unittest
import uuid

from tests.support.running import ROOT, running

PREPARED = f"""
    import sys; sys.path.insert(0, {str(ROOT)!r})
    from tests.support.randomportals import publish
    from zarbek.service.catalog.models import PortalChange, Release
    from zarbek.service.findings.models import FindingRecord
    from zarbek.service.findings.recomputation import list_differences
    from zarbek.service.links.actions import keep_links
    from zarbek.service.publishing.models import Run
    from zarbek.service.publishing.pipeline import register_stage

    tag = "{{tag}}"
    left, right, user = (f"{{name}}{{tag}}" for name in ("left", "right", "user"))

    def library(slug, version, *names):
        return publish(slug, version, {{f"{{slug}}.py": "".join(f"def {{n}}():\\n    pass\\n" for n in names)}})

    def using(version="1.0"):
        lines = "\\n".join(f"def use{{n}}():\\n    '''See :func:`{{slug}}.old`.'''" for n, slug in enumerate((left, right)))
        return publish(user, version, {{f"{{user}}.py": lines + "\\n"}})

    def missing():
        rows = FindingRecord.objects.filter(project__slug=user, rule="dangling/symbol").exclude(state="fixed")
        return sorted(rows.values_list("about", flat=True))

    def in_the_midst(act, name="relink_texts"):
        '''Do something once a first time that links are computed and not yet kept.'''
        link, done = getattr(keep_links, name), []
        def relink(*args, **options):
            new = link(*args, **options)
            if not done:
                done.append(True)
                act()
            return new
        setattr(keep_links, name, relink)

    once = []
    def meanwhile(publish):
        if publish.run.project == user and not once:
            once.append(True)
            library(right, "2.0", "new")

    library(left, "1.0", "old"); library(right, "1.0", "old")
"""


class Races(unittest.TestCase):
    def run_in_service(self, text):
        tag = f"q{uuid.uuid4().hex[:6]}"
        done = running().in_service(PREPARED.replace("{tag}", tag) + text)
        self.assertEqual(done.returncode, 0, done.stderr[-4000:])
        return done.stdout.split("\n")[:-1]

    def test_two_dependencies_that_publish_together_lose_nothing(self):
        found = self.run_in_service("""
    using()
    in_the_midst(lambda: library(right, "2.0", "new"))
    library(left, "2.0", "new")
    print(missing() == [left, right])
    print(list(list_differences([left, right, user])))
        """)
        self.assertEqual(found, ["True", "[]"])

    def test_what_changes_between_linking_and_going_live_is_linked_again(self):
        found = self.run_in_service("""
    register_stage(48, "meanwhile", meanwhile)
    run = using()
    print(missing() == [right], run.counts["dangling"])
    print(list(list_differences([left, right, user])))
        """)
        self.assertEqual(found, ["True 1", "[]"])

    def test_what_changes_in_the_moment_of_going_live_takes_it_back_and_is_linked_again(self):
        found = self.run_in_service("""
    from zarbek.service.publishing import pipeline
    pipeline.register_preparation(meanwhile)  # After what catches up: only the last look sees it.
    run = using()
    print(missing() == [right], run.counts["dangling"])
    print([line.text for line in run.lines.all() if "just changed" in line.text])
    print(list(list_differences([left, right, user])))
        """)
        self.assertEqual(
            found,
            ["True 1", "['Something that it links to has just changed: linking what that touches again.']", "[]"],
        )

    def test_a_run_done_again_once_it_is_live_keeps_what_others_find_in_it_meanwhile(self):
        found = self.run_in_service("""
    from zarbek.service.publishing.execution import execute
    def both(publish):
        if publish.run.pk == run.pk and not once:
            once.append(True)
            library(right, "2.0", "new")
            in_the_midst(lambda: library(left, "2.0", "new"), "link_release")
    run = using()
    register_stage(48, "meanwhile", both)
    Run.objects.filter(pk=run.pk).update(state="queued", attempt=2)
    execute(run.pk, 2)
    print(missing() == [left, right], Run.objects.get(pk=run.pk).state)
    print(list(list_differences([left, right, user])))
        """)
        self.assertEqual(found, ["True done", "[]"])

    def test_a_release_that_is_removed_meanwhile_is_left_alone(self):
        found = self.run_in_service("""
    from zarbek.service.catalog.actions.projects import remove_release
    from zarbek.service.findings.tasks import follow
    using(); using("1.1")
    in_the_midst(lambda: remove_release(Release.objects.get(project__slug=user, version="1.1")))
    print(library(left, "2.0", "new").state)
    for change in PortalChange.objects.filter(project=user, settled_at=None):
        follow.func(change.number)
    print(missing() == [left], list(list_differences([left, right, user])))
        """)
        self.assertEqual(found, ["done", "True []"])

    def test_a_change_whose_run_died_once_it_was_live_is_followed_up(self):
        found = self.run_in_service("""
    from datetime import timedelta
    from django.utils import timezone
    from zarbek.service.findings.tasks import follow, follow_overdue
    from zarbek.service.findings.queries import list_unfollowed
    from zarbek.service.publishing.actions.runs import give_up
    using()
    def die(publish):
        give_up(publish.run, "Enough.")
        publish.progress.check()
    register_stage(55, "die", die)
    try:
        library(left, "2.0", "new")
    except AssertionError:
        pass
    print(missing())
    (change,) = [c for c in list_unfollowed(timezone.now()) if c.project == left]
    follow.func(change.number)
    print(missing() == [left], PortalChange.objects.get(pk=change.pk).settled_at is not None)
    print(list(list_differences([left, right, user])))
        """)
        self.assertEqual(found, ["[]", "True True", "[]"])


if __name__ == "__main__":
    unittest.main()
