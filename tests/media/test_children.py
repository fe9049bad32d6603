"""The processes in which films are read: what their ends mean, and what the film is blamed for."""

from __future__ import annotations

import signal
import subprocess
import sys

import pytest

from frequens.media.decode.container import FilmFault
from frequens.media.ingest import child
from frequens.media.ingest.child import Interrupted, run_stage

WAIT = "import time; time.sleep(60)"


@pytest.fixture
def stage_that(monkeypatch):
    """Stages run this text instead."""
    start = subprocess.Popen

    def stands_in(text):
        monkeypatch.setattr(
            child.subprocess,
            "Popen",
            lambda command, **more: start([sys.executable, "-c", text], **more),
        )

    return stands_in


def dies_by(number):
    return (
        "import os, resource; resource.setrlimit(resource.RLIMIT_CORE, (0, 0));"
        f"os.kill(os.getpid(), {int(number)})"
    )


@pytest.mark.parametrize("number", [signal.SIGSEGV, signal.SIGABRT, signal.SIGILL])
def test_a_crash_of_the_decoder_is_told_and_not_called_damage(stage_that, number):
    stage_that(dies_by(number))
    with pytest.raises(FilmFault) as fault:
        run_stage("check", {})
    assert fault.value.code == "crashed"
    assert "damage" not in str(fault.value)


@pytest.mark.parametrize("text", [dies_by(signal.SIGKILL), dies_by(signal.SIGTERM), "1 / 0"])
def test_one_that_was_killed_or_failed_by_itself_is_not_the_films_fault(stage_that, text):
    stage_that(text)
    with pytest.raises(Interrupted):
        run_stage("check", {})


def test_one_that_used_up_its_time_was_too_slow(stage_that):
    stage_that(dies_by(signal.SIGXCPU))
    with pytest.raises(FilmFault) as fault:
        run_stage("check", {})
    assert fault.value.code == "too_slow"


def test_one_that_does_not_end_is_given_up_at_its_deadline(stage_that):
    stage_that(WAIT)
    with pytest.raises(FilmFault) as fault:
        run_stage("check", {}, wall_s=0.3)
    assert fault.value.code == "too_slow"
