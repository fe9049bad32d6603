"""The processes in which films are read: what their ends mean, and what the film is blamed for."""

from __future__ import annotations

import multiprocessing
import os
import signal
import subprocess
import sys
import tempfile
import time
from pathlib import Path

import pytest

from frequens.media.decode.container import FilmFault
from frequens.media.decode.limits import GIB, Limits
from frequens.media.ingest.child import Interrupted, Stopped, run_stage

ODD = "tests.media.odd_stages"
PATIENCE_S = 120


def is_there(pid):
    try:
        return Path(f"/proc/{pid}/stat").read_text().split(") ")[1][0] != "Z"
    except FileNotFoundError:
        return False


def wait_until(happened):
    deadline = time.monotonic() + PATIENCE_S
    while not happened():
        assert time.monotonic() < deadline
        time.sleep(0.02)


@pytest.mark.parametrize("number", [signal.SIGSEGV, signal.SIGABRT, signal.SIGILL])
def test_a_crash_of_the_decoder_is_told_and_not_called_damage(number):
    with pytest.raises(FilmFault) as fault:
        run_stage(f"{ODD}:is_killed", {"signal": int(number)})
    assert fault.value.code == "crashed"
    assert "damage" not in str(fault.value)


@pytest.mark.parametrize("number", [signal.SIGKILL, signal.SIGTERM])
def test_one_that_was_killed_is_not_the_films_fault(number):
    with pytest.raises(Interrupted, match=f"-{int(number)}"):
        run_stage(f"{ODD}:is_killed", {"signal": int(number)})


def test_one_that_failed_by_itself_is_not_the_films_fault():
    with pytest.raises(Interrupted):
        run_stage(f"{ODD}:fails", {})


def test_one_that_used_up_its_time_was_too_slow():
    with pytest.raises(FilmFault) as fault:
        run_stage(f"{ODD}:is_killed", {"signal": int(signal.SIGXCPU)})
    assert fault.value.code == "too_slow"


def test_one_that_does_not_end_is_given_up_at_its_deadline(tmp_path):
    with pytest.raises(FilmFault) as fault:
        run_stage(f"{ODD}:takes_long", {"pid": str(tmp_path / "pid")}, wall_s=0.3)
    assert fault.value.code == "too_slow"


def test_one_that_asks_for_more_memory_than_it_may_is_too_large_and_others_are_not():
    for _ in range(2):
        with pytest.raises(FilmFault) as fault:
            run_stage(f"{ODD}:takes_all_memory", {}, Limits(memory_bytes=2 * GIB))
        assert fault.value.code == "too_large"
        assert len(run_stage(f"{ODD}:says_much", {})["words"]) == 3_000_000


def test_what_is_done_is_told_and_what_decoders_complain_of_is_not(capfd):
    shares = []
    run_stage(f"{ODD}:says_much", {}, report=shares.append)
    assert shares == sorted(shares)
    # Not each of a thousand: nobody reads so fast.
    assert 100 < len(shares) <= 200
    assert capfd.readouterr().err == ""


def test_what_is_not_wanted_any_more_ends_at_once(tmp_path):
    pid = tmp_path / "pid"
    with pytest.raises(Stopped):
        run_stage(f"{ODD}:takes_long", {"pid": str(pid)}, wanted=lambda: not pid.exists())
    assert not is_there(int(pid.read_text()))


def test_who_asked_and_is_gone_leaves_no_stage_behind(tmp_path):
    pid = tmp_path / "pid"
    asking = subprocess.Popen(
        [
            *(sys.executable, "-c"),
            "import sys; from frequens.media.ingest.child import run_stage;"
            f"run_stage('{ODD}:takes_long', {{'pid': sys.argv[1]}})",
            str(pid),
        ]
    )
    wait_until(lambda: pid.exists() and pid.read_text())
    os.kill(asking.pid, signal.SIGKILL)
    asking.wait()
    wait_until(lambda: not is_there(int(pid.read_text())))


def test_a_temporary_folder_that_was_cleared_away_is_made_again():
    with tempfile.TemporaryDirectory(dir="/tmp") as short:
        asking = (
            "import sys, tempfile; from frequens.media.ingest.child import run_stage;"
            f"tempfile.tempdir = sys.argv[1]; assert run_stage('{ODD}:says_much', {{}})"
        )
        subprocess.run([sys.executable, "-c", asking, f"{short}/gone"], check=True)


def test_a_fork_of_who_asked_before_begins_a_source_of_its_own():
    """The demo films before the worker is forked from the first process."""
    forking = multiprocessing.get_context("fork")
    assert run_stage(f"{ODD}:says_much", {})
    for _ in range(2):
        fork = forking.Process(target=run_stage, args=(f"{ODD}:says_much", {}))
        fork.start()
        fork.join(PATIENCE_S)
        assert fork.exitcode == 0
    assert run_stage(f"{ODD}:says_much", {})


def test_a_source_that_is_killed_is_begun_anew(tmp_path):
    """The process that has loaded everything may be killed for its memory like any other."""
    pid = tmp_path / "pid"

    def kill_the_source():
        if pid.exists() and pid.read_text():
            told = Path(f"/proc/{pid.read_text()}/stat").read_text()
            os.kill(int(told.split(") ")[1].split()[1]), signal.SIGKILL)
            pid.unlink()
        return True

    with pytest.raises(Interrupted):
        run_stage(f"{ODD}:takes_long", {"pid": str(pid)}, wanted=kill_the_source)
    assert run_stage(f"{ODD}:says_much", {})
