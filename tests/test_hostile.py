"""A short form of the hostile campaign, with new inputs every time; the seeds of what fails are told."""

from __future__ import annotations

import random

from tools.hostile import KINDS, campaign, table


def test_nothing_made_to_harm_is_more_than_refused() -> None:
    found, _ = campaign(inputs=420, kills=4, seed=random.SystemRandom().randrange(10**9), workers=1)
    assert [f for f in found if f[1] == "failed"] == [], table(found)
    for kind in KINDS:
        outcomes = {f[1] for f in found if f[0] == kind}
        assert outcomes, kind
    assert sum(f[1] == "refused" for f in found) > 100
    assert sum(f[1] == "accepted" for f in found) > 60
