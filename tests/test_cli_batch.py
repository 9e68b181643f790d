"""A plan for everybody of a long roster: the same on every executor, once each, whatever was killed."""

import json
import os
import signal
import subprocess
import sys
import threading
from concurrent.futures import ProcessPoolExecutor

import pytest
from click.testing import CliRunner

from sorvek.cli import main

WORKOUT = "Two Lamps\nfor time, cap 6:00\n2 rounds:\n  9 toes-to-bar\n  9 burpees\n"
TIERS = ("starting", "building", "competing", "racing")
COUNT = 24


@pytest.fixture
def files(tmp_path):
    """Return a workout and a roster of two dozen, one with a flagged movement."""
    rows = "".join(f"Athlete {i:02},{TIERS[i % 4]},{'toes-to-bar: hand' if i == 5 else ''}\n" for i in range(COUNT))
    (tmp_path / "workout.txt").write_text(WORKOUT)
    (tmp_path / "roster.csv").write_text(f"name,tier,flags\n{rows}")
    return tmp_path


def run(files, out, executor="local:1"):
    words = [
        str(files / "workout.txt"),
        str(files / "roster.csv"),
        "--out",
        str(files / out),
        "--executor",
        executor,
    ]
    return CliRunner().invoke(main, ["plan-roster", *words])


def lines_of(path):
    """Return the lines of a file of plans by name; every athlete must be there once."""
    rows = [json.loads(line) for line in path.read_text().splitlines()]
    found = {row["name"]: row for row in rows}
    assert len(found) == len(rows)
    return found


def test_everybody_is_planned_once_with_the_same_digits_on_one_and_two_workers(files):
    assert f"{COUNT} athletes in" in run(files, "one.jsonl").output
    assert run(files, "two.jsonl", "local:2").exit_code == 0
    one = lines_of(files / "one.jsonl")
    assert one == lines_of(files / "two.jsonl")
    assert len(one) == COUNT
    assert "flagged: toes-to-bar" in one["Athlete 05"]["problem"]
    assert one["Athlete 07"]["outlook"]["crux"] == "toes-to-bar"
    again = run(files, "one.jsonl")
    assert "a second" not in again.output  # nothing was left to do


def test_after_a_kill_it_goes_on_and_changed_numbers_are_planned_anew(files):
    run(files, "plans.jsonl")
    path = files / "plans.jsonl"
    whole = lines_of(path)
    text = path.read_text()
    path.write_text(text[: text.index("\n", len(text) // 2) + 40])  # cut off in the middle of a line
    assert run(files, "plans.jsonl").exit_code == 0
    assert lines_of(path) == whole
    roster = files / "roster.csv"
    roster.write_text(roster.read_text().replace("Athlete 07,racing", "Athlete 07,starting"))
    run(files, "plans.jsonl")
    changed = lines_of(path)
    assert {name for name in whole if changed[name] != whole[name]} == {"Athlete 07"}


def test_a_killed_worker_of_the_pool_costs_nothing_but_time(files, monkeypatch):
    pools, submit = [], ProcessPoolExecutor.submit

    def and_kill(self, *args):
        future = submit(self, *args)
        if not pools:
            pools.append(self)
            threading.Timer(0.3, lambda: [os.kill(pid, signal.SIGKILL) for pid in list(self._processes)]).start()
        return future

    monkeypatch.setattr(ProcessPoolExecutor, "submit", and_kill)
    answer = run(files, "plans.jsonl", "local:2")
    assert answer.exit_code == 0
    assert len(lines_of(files / "plans.jsonl")) == COUNT


def test_a_cluster_gives_the_same_and_goes_on_without_a_worker(files, local_cluster):
    """Two workers, one of them killed at work; then the scheduler is gone, and the command says how to go on."""
    run(files, "local.jsonl")
    with local_cluster(2) as cluster:
        address = cluster.scheduler_address.replace("tcp:", "dask:")
        process = next(iter(cluster.workers.values())).process
        threading.Timer(1.0, os.kill, [process.pid, signal.SIGKILL]).start()
        answer = run(files, "cluster.jsonl", address)
        assert answer.exit_code == 0, answer.output
    assert lines_of(files / "cluster.jsonl") == lines_of(files / "local.jsonl")
    gone = run(files, "other.jsonl", address)
    assert gone.exit_code == 2
    assert "no scheduler answers" in gone.output


def when_written(path, act):
    """Do something in a thread as soon as the first plan is written."""

    def watch():
        tick = threading.Event()
        while not (path.exists() and path.read_text().count("\n")):
            tick.wait(0.01)
        act()

    threading.Thread(target=watch, daemon=True).start()


@pytest.fixture
def many(files):
    """A roster long enough that something can be killed while it is planned."""
    rows = "".join(f"Athlete {i:03},{TIERS[i % 4]}\n" for i in range(8 * COUNT))
    (files / "roster.csv").write_text(f"name,tier\n{rows}")
    return files


def test_a_scheduler_that_is_lost_at_work_is_told_and_nothing_is_lost_or_doubled(many, local_cluster):
    cluster = local_cluster(2)
    when_written(many / "plans.jsonl", cluster.close)
    answer = run(many, "plans.jsonl", cluster.scheduler_address.replace("tcp:", "dask:"))
    assert answer.exit_code == 3, answer.output
    assert "the same command goes on from there" in answer.output
    assert 0 < len(lines_of(many / "plans.jsonl")) < 8 * COUNT
    assert run(many, "plans.jsonl", "local:2").exit_code == 0
    assert len(lines_of(many / "plans.jsonl")) == 8 * COUNT


def test_a_client_killed_at_work_goes_on_when_started_again(many, local_cluster):
    with local_cluster(2) as cluster:
        address = cluster.scheduler_address.replace("tcp:", "dask:")
        words = ["plan-roster", "workout.txt", "roster.csv", "--out", "plans.jsonl", "--executor", address]
        client = subprocess.Popen([sys.executable, "-c", "from sorvek.cli import main; main()", *words], cwd=many)
        when_written(many / "plans.jsonl", client.kill)
        assert client.wait(timeout=120) == -signal.SIGKILL
        begun = len((many / "plans.jsonl").read_text().splitlines())
        assert 0 < begun < 8 * COUNT
        assert run(many, "plans.jsonl", address).exit_code == 0
    assert len(lines_of(many / "plans.jsonl")) == 8 * COUNT


@pytest.mark.parametrize("executor", ["local:x", "dusk://127.0.0.1:1", "dask:127", ""])
def test_what_is_no_executor_is_told(files, executor):
    answer = run(files, "plans.jsonl", executor)
    assert answer.exit_code == 2
    assert "dask://HOST:PORT" in answer.output


def test_a_file_of_something_else_is_not_overwritten(files):
    (files / "plans.jsonl").write_text("name,tier\nSomebody,racing\n")
    answer = run(files, "plans.jsonl")
    assert answer.exit_code == 2
    assert "holds no plans" in answer.output
    assert "Somebody" in (files / "plans.jsonl").read_text()


def test_tiers_are_cut_from_the_plans_of_a_roster(files):
    """The same as from plans made on the spot; a plan of other numbers is refused by name."""
    run(files, "plans.jsonl")
    words = ["place", str(files / "workout.txt"), "--roster", str(files / "roster.csv"), "--tiers", "2", "--json"]
    runner = CliRunner()
    kept = runner.invoke(main, [*words, "--plans", str(files / "plans.jsonl")])
    data = json.loads(kept.stdout)
    assert data == json.loads(runner.invoke(main, words).stdout)
    assert sum(len(tier["members"]) for tier in data["tiers"]) == COUNT - 1
    roster = files / "roster.csv"
    roster.write_text(roster.read_text().replace("Athlete 07,racing", "Athlete 07,starting"))
    refused = runner.invoke(main, [*words, "--plans", str(files / "plans.jsonl")])
    assert refused.exit_code == 2
    assert "1 of 23 are not in it as they are now, Athlete 07 for one" in " ".join(refused.output.split())
