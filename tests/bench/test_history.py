"""The benches' history: times in yardsticks, and what became worse is said."""

import csv

from bench import history


def test_times_are_kept_in_yardsticks_and_what_is_worse_than_the_last_runs_is_told(tmp_path, monkeypatch):
    monkeypatch.setattr(history, "yardstick", lambda: 0.2)
    file = tmp_path / "history.csv"
    for seconds in (1.0, 1.1, 0.9):
        assert history.record("lay", {"a lay": seconds}, {"ratio": 1.01}, file) == []
    (worse,) = history.record("lay", {"a lay": 1.3}, {"ratio": 1.02}, file)
    assert "a lay is 1.30 times" in worse
    with file.open() as rows:
        kept = list(csv.DictReader(rows))
    assert [r["value"] for r in kept if r["figure"] == "a lay"] == ["5", "5.5", "4.5", "6.5"]
    assert {r["unit"] for r in kept if r["figure"] == "ratio"} == {""}


def test_a_faster_machine_is_no_progress(tmp_path, monkeypatch):
    file = tmp_path / "history.csv"
    monkeypatch.setattr(history, "yardstick", lambda: 0.2)
    history.record("lay", {"a lay": 1.0}, file=file)
    monkeypatch.setattr(history, "yardstick", lambda: 0.1)
    assert history.record("lay", {"a lay": 0.5}, file=file) == []
    assert "2.00 times" in history.record("lay", {"a lay": 1.0}, file=file)[0]
