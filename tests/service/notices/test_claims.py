"""Two workers at the same time: nothing is done twice, and each receiver gets its events in order."""

import unittest
import uuid

from tests.support.running import running


class TwoWorkers(unittest.TestCase):
    def at_once(self, text):
        done = running().in_service(f"""
            import threading, time
            from datetime import timedelta
            from django.db import connection
            from django.utils import timezone
            from zarbek.service.catalog.models import Project
            tag = {uuid.uuid4().hex[:6]!r}
            project = Project.objects.create(slug=f"two{{tag}}", title="Two")
            def beside(act):
                def run():
                    act()
                    connection.close()
                threads = [threading.Thread(target=run) for _ in range(2)]
                [t.start() for t in threads]
                [t.join() for t in threads]
            {text}
            Project.objects.filter(pk=project.pk).delete()
        """)
        self.assertEqual(done.returncode, 0, done.stderr[-3000:])
        return done.stdout.split("\n")[:-1]

    def test_an_event_is_sent_by_one_of_them_and_after_those_before_it(self):
        found = self.at_once("""
            from zarbek.service.notices.actions import webhooks as actions
            from zarbek.service.notices.models import Delivery, Webhook
            hooks = [Webhook.objects.create(url="http://x.example/", secret="whsec_eA==", project=project, person="A")
                     for _ in range(4)]
            with actions.atomic():  # The portal's own worker sees none of it: they are due for this process only.
                for n in range(5):
                    for hook in hooks:
                        Delivery.objects.create(webhook=hook, event=f"{tag}-{n}", type="t", body="{}",
                                                due_at=timezone.now() + timedelta(days=400))
            sent, lock = [], threading.Lock()
            def send(delivery):
                with lock:
                    sent.append((delivery.webhook_id, delivery.event))
                time.sleep(0.02)
                return actions.Sent(200, "")
            actions.send = send
            actions.timezone = type("Later", (), {"now": staticmethod(lambda: timezone.now() + timedelta(days=401))})
            beside(actions.deliver_due)
            ours = [s for s in sent if s[1].startswith(tag)]
            print(len(ours), len(set(ours)))
            print([[e[-1] for h, e in ours if h == hook.pk] == list("01234") for hook in hooks])
            print(Delivery.objects.filter(event__startswith=tag).exclude(state="delivered").count(),
                  Webhook.objects.filter(pk__in=[h.pk for h in hooks]).exclude(claimed_until=None).count())
        """)
        self.assertEqual(found, ["20 20", "[True, True, True, True]", "0 0"])

    def test_a_repository_that_is_due_is_looked_at_by_one_of_them(self):
        found = self.at_once("""
            from zarbek.service.sources import actions
            for n in range(40):
                actions.add_source(project.slug, address=f"https://git.example/{n}", folder="", poll_minutes=9, tags="v*", branch="")
            ours = set(project.sources.values_list("pk", flat=True))
            project.sources.update(due_at=timezone.now() + timedelta(days=400))
            actions.timezone = type("Later", (), {"now": staticmethod(lambda: timezone.now() + timedelta(days=401))})
            claimed, gate = [], threading.Barrier(2)
            def claim():
                gate.wait()
                claimed.extend(actions.claim_due_sources(15))
            beside(claim); beside(claim)
            ours = [pk for pk in claimed if pk in ours]
            print(len(ours), len(set(ours)))
        """)
        self.assertEqual(found, ["40 40"])


if __name__ == "__main__":
    unittest.main()
