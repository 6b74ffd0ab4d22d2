"""An identification that is followed no more has ended in the controller, or it is said that it may not have."""

from __future__ import annotations

from typing import Any

import pytest

from ninebolt.core.setting.ours import IDENTIFY, STEPS
from ninebolt.core.setting.sets import OUR_PROFILE
from ninebolt.errors import LinkError
from ninebolt.link.port import Adapter, opened
from rows.conftest import Linked


def link_of(linked: Linked) -> Any:
    return linked.client.app.state.link  # type: ignore[attr-defined]


def test_dangerous_a_stop_that_is_not_answered_is_no_stop(
    linked: Linked, monkeypatch: pytest.MonkeyPatch
) -> None:
    """Between a look and the stop the controller falls silent: "stopped" would be a guess."""
    monkeypatch.setattr("ninebolt.link.port.ANSWER_S", 0.3)  # silence is what is waited for
    linked.connect()
    following = link_of(linked).identification("x")()
    next(following)
    linked.bench("key", on=False)
    with pytest.raises(LinkError, match="may turn still: disconnect the pack"):
        following.close()
    linked.bench("key", on=True)
    assert (
        next(link_of(linked).identification("y")()).found.step in STEPS
    )  # nothing is held up by it


def test_dangerous_let_go_before_it_has_begun_it_does_not_begin(linked: Linked) -> None:
    """Pressed twice in a hurry, start and disconnect: the start must not come after what was said to be the end."""
    following = link_of(linked).identification("x")()
    linked.post("/api/link/disconnect")
    with pytest.raises(LinkError, match="let go"):
        next(following)
    adapter = Adapter("slcan", f"socket://127.0.0.1:{linked.bus}")
    with opened(adapter, OUR_PROFILE.dictionary) as port:
        assert port.read(IDENTIFY["step"]) == STEPS.index("not started")
