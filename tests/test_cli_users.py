"""Accounts from the shell: added, listed, changed, removed; refusals in one line."""

import pytest
from click.testing import CliRunner

from sorvek.cli import main
from sorvek.store.accounts import account_with
from sorvek.store.database import connection, open_database

PASSWORD = "four plain words here"


@pytest.fixture
def run(tmp_path):
    def invoke(*words, typed=f"{PASSWORD}\n{PASSWORD}\n"):
        return CliRunner().invoke(main, ["user", *words, "--data", str(tmp_path)], input=typed)

    return invoke


def test_an_account_is_added_listed_changed_and_removed(run, tmp_path):
    assert "Mara Venn may sign in as owner" in run("add", "Mara Venn", "--role", "owner").output
    assert run("add", "Tovi Brand").exit_code == 0
    listed = run("list").output.splitlines()
    assert listed == ["owner      Mara Venn", "coach      Tovi Brand"]
    assert run("password", "Tovi Brand", typed="another password\nanother password\n").exit_code == 0
    open_database(tmp_path / "sorvek.db")
    with connection():
        assert account_with("Tovi Brand", PASSWORD) is None
        assert account_with("Tovi Brand", "another password") is not None
    assert run("remove", "Tovi Brand").exit_code == 0
    assert "Tovi" not in run("list").output


@pytest.mark.parametrize(
    ("words", "typed", "told"),
    [
        (("add", "Mara"), "short\nshort\n", "10 to 200 characters"),
        (("add", "   "), f"{PASSWORD}\n{PASSWORD}\n", "needs a name"),
        (("remove", "Nobody"), "", "no account called Nobody"),
        (("password", "Nobody"), f"{PASSWORD}\n{PASSWORD}\n", "no account called Nobody"),
    ],
)
def test_what_cannot_be_is_told_in_one_line(run, words, typed, told):
    answer = run(*words, typed=typed)
    assert answer.exit_code == 2
    assert told in answer.output


def test_the_last_owner_stays_and_a_name_is_taken_once(run):
    run("add", "Mara", "--role", "owner")
    assert "the only owner" in run("remove", "Mara").output
    assert "Mara already" in run("add", "Mara").output
