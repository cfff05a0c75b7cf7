"""The command line. Heavy parts are imported where they are used, so that ``vadum --help`` is quick."""

import json
import os
import sys
from pathlib import Path
from typing import Annotated, TypeVar

import typer

from vadum.heap import look_seldom
from vadum.serving import alone_on, serve_laboratory

app = typer.Typer(add_completion=False, no_args_is_help=True, help="Soil tests from the bench to the sheet.")

T = TypeVar("T")
DEFAULT_DATABASE = Path("data/vadum.sqlite")
DEMO_DATABASE = Path("data/demo.sqlite")
Database = Annotated[Path, typer.Option(help="The laboratory's database file.", envvar="VADUM_DATABASE")]
Port = Annotated[int, typer.Option(help="Port on 127.0.0.1.", min=1, max=65535)]
BenchPort = Annotated[
    int, typer.Option("--instruments", help="Port of the instruments on 127.0.0.1.", min=1, max=65535)
]
BenchPorts = Annotated[
    list[int] | None,
    typer.Option(
        "--instruments", help="Port of a bench of instruments on 127.0.0.1; may be repeated.", min=1, max=65535
    ),
]


_HERE = ("127.0.0.1", "localhost", "::1")
user = typer.Typer(help="People of the laboratory.", no_args_is_help=True)
app.add_typer(user, name="user")


@app.callback()
def _begin() -> None:
    look_seldom()


@app.command()
def serve(
    database: Database = DEFAULT_DATABASE,
    port: Port = 8000,
    bench_ports: BenchPorts = None,
    host: Annotated[
        str, typer.Option(help="Address to listen on; beyond this machine only with a manager.")
    ] = "127.0.0.1",
    name: Annotated[
        list[str] | None, typer.Option("--name", help="A name this server is reached by; may be repeated.")
    ] = None,
    requests: Annotated[
        bool, typer.Option(help="Log every request beside the database, one JSON object each.")
    ] = False,
) -> None:
    """Serve the laboratory in DATABASE. It answers to this machine's own names, to --host and to every --name."""
    if host not in _HERE and not _managed(database):
        typer.echo("No manager is registered: anybody who reaches this address could change every record.", err=True)
        typer.echo("Register one first: vadum user add NAME --role manager", err=True)
        raise typer.Exit(2)
    serve_laboratory(database, host, port, bench_ports or [8020], demo=False, names=name or [], requests=requests)


def _managed(database: Path) -> bool:
    from vadum.records.database import open_database, session_on
    from vadum.records.people import has_manager

    with session_on(open_database(database)) as session:
        return has_manager(session)


@app.command()
def backup(
    target: Annotated[Path, typer.Argument(help="Where the copy goes.")], database: Database = DEFAULT_DATABASE
) -> None:
    """Write a verified copy of the laboratory, also while it is in use."""
    from vadum.records.backup import BackupError
    from vadum.records.backup import backup as copy

    try:
        copy(database, target)
    except BackupError as error:
        typer.echo(str(error), err=True)
        raise typer.Exit(2) from error
    typer.echo(f"{target}: {target.stat().st_size / 1e6:.1f} MB, looked through.")


@app.command()
def restore(
    copy: Annotated[Path, typer.Argument(help="A copy made by backup.")], database: Database = DEFAULT_DATABASE
) -> None:
    """Put a verified copy in the place of the laboratory; stop the server first. What stood there is kept beside it."""
    from vadum.records.backup import BackupError
    from vadum.records.backup import restore as put
    from vadum.records.lock import HeldError

    try:
        aside = put(copy, database)
    except (BackupError, HeldError) as error:
        typer.echo(str(error), err=True)
        raise typer.Exit(2) from error
    typer.echo(f"{database} is restored." + (f" What stood there is kept as {aside}." if aside else ""))


@app.command("export")
def export_project(
    project: Annotated[int, typer.Argument(help="Number of the project, as in its address.")],
    file: Annotated[Path, typer.Argument(help="Where the archive goes.")],
    database: Database = DEFAULT_DATABASE,
) -> None:
    """Write a whole project to one file."""
    from vadum.records.archive import export
    from vadum.records.database import open_database, session_on
    from vadum.records.tables import Project

    with session_on(open_database(database)) as session:
        found = session.get(Project, project)
        if found is None:
            typer.echo(f"There is no project {project}.", err=True)
            raise typer.Exit(2)
        file.write_bytes(export(session, found))
    typer.echo(f"{file}: {file.stat().st_size / 1e6:.1f} MB.")


@app.command("report")
def write_report(
    project: Annotated[int, typer.Argument(help="Number of the project, as in its address.")],
    file: Annotated[Path, typer.Argument(help="Where the PDF goes.")],
    chapters: Annotated[
        str, typer.Option("--chapters", help="What it contains, in order: summary,logs,samples,tests.")
    ] = "summary,logs,samples,tests",
    title: Annotated[str, typer.Option(help="Title on its first page.")] = "Laboratory and site tests",
    everything: Annotated[bool, typer.Option("--everything", help="Unfinished tests too.")] = False,
    database: Database = DEFAULT_DATABASE,
) -> None:
    """Write a draft report of a project as PDF; reports are issued in the application."""
    from pydantic import ValidationError

    from vadum.records.database import open_database, session_on
    from vadum.records.tables import Project
    from vadum.report.builder import make
    from vadum.report.wanted import Wanted
    from vadum.soil.contract.complaint import complaints

    try:
        wanted = Wanted(title=title, chapters=chapters.split(","), final=not everything)
    except ValidationError as error:
        first = complaints(error)[0]
        typer.echo(f"{first.place}: {first.message}.", err=True)
        raise typer.Exit(2) from error
    with session_on(open_database(database)) as session:
        found = session.get(Project, project)
        if found is None:
            typer.echo(f"There is no project {project}.", err=True)
            raise typer.Exit(2)
        file.write_bytes(make(session, found, wanted, "draft", "command line", lambda *_: None))
    typer.echo(f"{file}: {file.stat().st_size / 1e6:.1f} MB.")


@app.command("import")
def import_project(
    file: Annotated[Path, typer.Argument(help="An archive of a project.")], database: Database = DEFAULT_DATABASE
) -> None:
    """Bring an archive in as a new project; all of it or nothing."""
    from vadum.records.archive import ArchiveError, bring_in, preview
    from vadum.records.database import open_database, session_on

    with session_on(open_database(database)) as session:
        try:
            data = file.read_bytes()
            notes = preview(session, data).notes
            project = bring_in(session, data)
        except (ArchiveError, OSError) as error:
            typer.echo(f"{file}: {error}", err=True)
            raise typer.Exit(2) from error
        for line in (*notes, f"{project.name} is project {project.id}."):
            typer.echo(line)


@app.command()
def doctor(
    database: Database = DEFAULT_DATABASE,
    repair: Annotated[bool, typer.Option("--repair", help="Renew what lists show; readings are not touched.")] = False,
    verbose: Annotated[bool, typer.Option("--verbose", help="Say versions, machine, and the end of the log.")] = False,
) -> None:
    """Look through a laboratory's file and records; exit code 1 names what does not hold together."""
    from vadum.records.backup import BackupError, verify
    from vadum.records.database import open_database, session_on
    from vadum.records.doctor import repaired, troubles

    if verbose:
        from vadum.diagnosis import about

        for said in about(database):
            typer.echo(said)
    try:
        if not database.exists():
            raise BackupError(f"{database}: there is no such database.")
        verify(database)
    except BackupError as error:
        typer.echo(str(error), err=True)
        raise typer.Exit(1) from error
    with session_on(open_database(database)) as session:
        for said in repaired(session) if repair else ():
            typer.echo(said)
        found = list(troubles(session))
    for said in found:
        typer.echo(said, err=True)
    if found:
        raise typer.Exit(1)
    typer.echo(f"{database}: all holds together.")


@user.command("add")
def add_user(
    name: str,
    role: Annotated[str, typer.Option(help="technician, checker, manager or reader")] = "technician",
    password: Annotated[
        str, typer.Option(prompt=True, hide_input=True, confirmation_prompt=True, envvar="VADUM_PASSWORD")
    ] = "",
    database: Database = DEFAULT_DATABASE,
) -> None:
    """Register a person. From the first one on, who must be a manager, everybody signs in."""
    from vadum.records.database import open_database, session_on
    from vadum.records.people import PeopleError, add_person

    with session_on(open_database(database)) as session:
        try:
            if not password:
                raise PeopleError("Give a password.")
            add_person(session, name, role, password)
        except PeopleError as error:
            typer.echo(str(error), err=True)
            raise typer.Exit(2) from error
    typer.echo(f"{name} is registered as {role}.")


@user.command("password")
def new_password(
    name: str,
    password: Annotated[
        str, typer.Option(prompt=True, hide_input=True, confirmation_prompt=True, envvar="VADUM_PASSWORD")
    ] = "",
    database: Database = DEFAULT_DATABASE,
) -> None:
    """Give a person a new password; all their sessions end."""
    from sqlmodel import select

    from vadum.records.database import open_database, session_on
    from vadum.records.people import PeopleError, change_password
    from vadum.records.tables import Person

    with session_on(open_database(database)) as session:
        person = session.exec(select(Person).where(Person.name == name)).first()
        try:
            if person is None:
                raise PeopleError(f"{name} is not registered.")
            change_password(session, person, password)
        except PeopleError as error:
            typer.echo(str(error), err=True)
            raise typer.Exit(2) from error
    typer.echo(f"{name} signs in with the new password from now on.")


@app.command()
def recompute(
    database: Database = DEFAULT_DATABASE,
    renew: Annotated[
        bool,
        typer.Option("--renew", help="Renew what lists show of open tests; checked ones stay as they were checked."),
    ] = False,
) -> None:
    """Reduce every test on record by today's methods and say which numbers would change; exit code 1 when any would.

    Nothing is written unless --renew is given.
    """
    from vadum.records.backup import BackupError
    from vadum.records.recompute import recompute as looked_at

    try:
        found = looked_at(database)
    except BackupError as error:
        typer.echo(str(error), err=True)
        raise typer.Exit(2) from error
    for one in found.changed:
        typer.echo(one.words)
    typer.echo(f"{found.count} tests reduced again, {len(found.changed)} would change.")
    if renew and found.changed:
        from vadum.records.database import open_database, session_on
        from vadum.records.doctor import repaired

        with session_on(open_database(database)) as session:
            for said in repaired(session):
                typer.echo(said)
    elif found.changed:
        raise typer.Exit(1)


@app.command()
def demo(
    database: Database = DEMO_DATABASE,
    port: Port = 8000,
    fresh: Annotated[bool, typer.Option(help="Start the demonstration over.")] = False,
    only_build: Annotated[bool, typer.Option("--only-build", help="Make the database and stop.")] = False,
    bench_port: BenchPort = 8020,
) -> None:
    """Build the demonstration laboratory when it is missing, then serve it, with simulated instruments beside it."""
    import subprocess

    from vadum.demo.laboratory import build, staff

    with alone_on(database):
        if fresh:
            for suffix in ("", "-wal", "-shm"):
                Path(f"{database}{suffix}").unlink(missing_ok=True)
        if not database.exists():
            build(database)
        staff(database)
    if only_build:
        return
    typer.echo(f"Vadum demonstration laboratory: http://127.0.0.1:{port}  (Ctrl-C stops it)")
    # They end when this end of the pipe is gone, whatever becomes of this process.
    command = [sys.executable, "-m", "vadum", "instruments", "--port", str(bench_port), "--while-asked"]
    with subprocess.Popen(command, stdin=subprocess.PIPE) as stand_ins:
        try:
            serve_laboratory(database, "127.0.0.1", port, [bench_port], demo=True)
        finally:
            stand_ins.terminate()


@app.command()
def instruments(
    port: Port = 8020,
    events_port: Annotated[int, typer.Option(help="Port of the server-sent events; the next one when 0.")] = 0,
    speed: Annotated[float, typer.Option(help="How much faster the bench's time runs.", min=1, max=600)] = 1.0,
    seed: Annotated[int, typer.Option(help="The virtual soil the instruments see.")] = 1,
    while_asked: Annotated[
        bool, typer.Option("--while-asked", help="End when standard input is closed by whoever started them.")
    ] = False,
) -> None:
    """Run the simulated instruments on 127.0.0.1: JSON lines over TCP, and server-sent events."""
    import asyncio
    import threading
    import time
    from contextlib import suppress

    from vadum.instruments.catalogue import stand_ins
    from vadum.instruments.server import Bench, run

    if while_asked:
        threading.Thread(target=_end_with_input, daemon=True).start()
    bench = Bench(stand_ins(time.time(), speed=speed, seed=seed))
    with suppress(KeyboardInterrupt):
        try:
            asyncio.run(run(bench, "127.0.0.1", port, events_port or port + 1))
        except OSError as error:
            typer.echo(f"port {port}: {error.strerror}", err=True)
            raise typer.Exit(2) from error


@app.command()
def serial(
    wires: Annotated[Path, typer.Argument(help="A TOML file with a table [[wire]] for each instrument.")],
    port: Port = 8030,
) -> None:
    """Serve the instruments on serial lines that WIRES says, as a bench of its own: vadum serve --instruments 8030."""
    import asyncio
    from contextlib import suppress

    from vadum.instruments.server import Bench, listen
    from vadum.instruments.wire import Wired, WiresError, wires_in

    try:
        found = wires_in(wires)
    except WiresError as error:
        typer.echo(str(error), err=True)
        raise typer.Exit(2) from error

    async def serve() -> None:
        async with await listen(Bench({wire.name: Wired(wire) for wire in found}), "127.0.0.1", port) as lines:
            await lines.serve_forever()

    typer.echo(f"{', '.join(wire.name for wire in found) or 'nothing'} at 127.0.0.1:{port}")
    with suppress(KeyboardInterrupt):
        try:
            asyncio.run(serve())
        except OSError as error:
            typer.echo(f"port {port}: {error.strerror}", err=True)
            raise typer.Exit(2) from error


def _end_with_input() -> None:
    # Not through what Python keeps of its input: that is locked while it waits, and an end for another reason failed.
    while os.read(0, 1024):
        pass
    os._exit(0)


@app.command()
def methods(
    as_json: Annotated[bool, typer.Option("--json", help="With the JSON Schemas of readings and settings.")] = False,
) -> None:
    """List the test methods."""
    from vadum.soil.contract.method import describe
    from vadum.soil.registry import METHODS

    if as_json:
        described = [describe(method).model_dump() for method in METHODS.values()]
        typer.echo(json.dumps(described, indent=2, ensure_ascii=False))
        return
    for method in METHODS.values():
        typer.echo(f"{method.code:18} {method.title:18} {', '.join(method.basis)}")


@app.command()
def example(code: Annotated[str, typer.Argument(help="The method's slug; see `vadum methods`.")]) -> None:
    """Print the example of a method as a bench file."""
    from vadum.exchange.bench_file import example_of
    from vadum.soil.registry import UnknownMethod

    try:
        typer.echo(example_of(code), nl=False)
    except UnknownMethod as error:
        typer.echo(str(error), err=True)
        raise typer.Exit(2) from error


@app.command("new-method")
def begin_method(
    code: Annotated[str, typer.Argument(help="A slug such as linear-shrinkage.")],
    title: Annotated[str, typer.Option(help="The field's usual name; from the slug when left out.")] = "",
    into: Annotated[Path, typer.Option(help="The source folder of Vadum, or of a wheel of your own.")] = Path("src"),
) -> None:
    """Begin a method: write a package that reduces at once, to be filled by docs/add-a-method.md."""
    from vadum.scaffold import NotAName, new_method

    named = title or code.replace("-", " ").capitalize()
    try:
        written = new_method(code, named, into / "vadum/soil/methods", into / "vadum/exchange/ags4/methods")
    except NotAName as error:
        typer.echo(str(error), err=True)
        raise typer.Exit(2) from error
    for path in written:
        typer.echo(str(path))


@app.command()
def reduce(file: Annotated[Path, typer.Argument(help="A bench file; - reads standard input.")]) -> None:
    """Reduce a bench file and print the reduction as JSON. Exit code 2 names what cannot be read."""
    from vadum.exchange.bench_file import BenchFileError, parse

    try:
        raw = sys.stdin.buffer.read() if str(file) == "-" else file.read_bytes()
    except OSError as error:
        typer.echo(f"{file}: {error.strerror}", err=True)
        raise typer.Exit(2) from error
    try:
        reduction = parse(raw).reduce()
    except BenchFileError as error:
        for fault in error.faults:
            typer.echo(f"{file}: {fault.place}: {fault.message}", err=True)
        raise typer.Exit(2) from error
    typer.echo(reduction.model_dump_json(indent=2))


@app.command()
def simulate(
    method: str,
    seed: Annotated[int, typer.Option(help="The same seed gives the same readings.")] = 1,
    mistake: Annotated[list[str] | None, typer.Option(help="Plant a mistake by name; may be repeated.")] = None,
    settings: Annotated[str, typer.Option(help="Settings as JSON.")] = "{}",
) -> None:
    """Print a bench file of METHOD as a technician would have read it on a virtual soil."""
    import numpy as np
    from pydantic import ValidationError

    from vadum.exchange.bench_file import compose
    from vadum.soil.registry import UnknownMethod
    from vadum.soil.registry import method as method_of

    try:
        chosen = method_of(method)
        school = chosen.Settings.model_validate_json(settings)
        rng = np.random.default_rng(seed)
        readings = chosen.virtual(chosen.a_soil(rng), school, rng, frozenset(mistake or ()))
    except (UnknownMethod, ValidationError, ValueError) as error:
        typer.echo(str(error), err=True)
        raise typer.Exit(2) from error
    plain = readings.model_dump(mode="json", exclude_none=True)
    typer.echo(json.dumps(compose(method, plain, school.model_dump(mode="json", exclude_defaults=True), {}), indent=2))


@app.command()
def licences() -> None:
    """List what ships with Vadum and what it stands on, with versions and licences."""
    from vadum.licences import parts

    for part in parts():
        typer.echo(f"{part.name:34} {part.version:14} {part.licence}  ({part.where})")


@app.command()
def docs(folder: Annotated[Path, typer.Argument(help="Where the method pages go.")] = Path("docs/methods")) -> None:
    """Write the method pages, and their examples beside them, from the methods themselves."""
    from vadum.report.method_page import write_examples, write_pages

    for path in (*write_pages(folder), *write_examples(folder.parent / "examples")):
        typer.echo(str(path))
