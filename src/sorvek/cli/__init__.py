"""The command line: the same core as the pages."""

import importlib

import click

# Where each command lives: the shell loads only what it was asked for, not the server for a read-out.
COMMANDS = {
    "read": "planning:read",
    "plan": "planning:plan",
    "place": "placing:place",
    "plan-roster": "batching:plan_roster",
    "lift": "planning:lift",
    "rehearse": "rehearsing:rehearse_heat",
    "demo": "serving:demo",
    "serve": "serving:serve",
    "user": "users:user",
    "backup": "serving:backup",
    "restore": "serving:put_back",
    "bench": "serving:bench",
}


class _Commands(click.Group):
    """Commands that are imported when they are called."""

    def list_commands(self, ctx: click.Context) -> list[str]:
        return list(COMMANDS)

    def get_command(self, ctx: click.Context, cmd_name: str) -> click.Command | None:
        if cmd_name not in COMMANDS:
            return None
        module, _, name = COMMANDS[cmd_name].partition(":")
        command: click.Command = getattr(importlib.import_module(f"sorvek.cli.{module}"), name)
        return command


@click.command(cls=_Commands, context_settings={"help_option_names": ["-h", "--help"]})
@click.version_option(package_name="sorvek")
def main() -> None:
    """Read a timed qualifier workout and plan it for every athlete."""
