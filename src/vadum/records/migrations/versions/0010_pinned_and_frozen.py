"""settings whole with their origin, revisions that keep what changed, logger files once, checks that freeze

What a method did by default on the day of this migration is written out beside it: the methods themselves may differ by
the time it runs.
"""

import hashlib
import json
from pathlib import Path

import sqlalchemy as sa
from alembic import op

revision = "0010"
down_revision = "0009"

_DEFAULTS = json.loads(Path(__file__).with_name("0010_defaults.json").read_text(encoding="utf-8"))


def upgrade() -> None:
    op.create_table(
        "log_content",
        sa.Column("sha256", sa.String(), primary_key=True),
        sa.Column("data", sa.String(), nullable=False),
    )
    op.create_table(
        "checked_test",
        sa.Column("id", sa.Integer(), primary_key=True),
        sa.Column("test_id", sa.Integer(), sa.ForeignKey("test.id"), nullable=False),
        sa.Column("revision", sa.Integer(), nullable=False),
        sa.Column("who", sa.String(), nullable=False),
        sa.Column("at", sa.DateTime(), nullable=False),
        sa.Column("version", sa.String(), nullable=False),
        *(
            sa.Column(name, sa.JSON(), nullable=False)
            for name in (
                "readings",
                "settings",
                "setting_origins",
                "origins",
                "context",
                "leans",
                "pieces",
                "result",
                "unsettled",
                "accepted",
            )
        ),
    )
    op.create_index("ix_checked_test_test_id", "checked_test", ["test_id"])
    for name, empty in (("setting_origins", "{}"), ("moved", "[]"), ("offered", "{}")):
        op.add_column("test", sa.Column(name, sa.JSON(), nullable=False, server_default=empty))
    op.add_column("test", sa.Column("version", sa.String(), nullable=False, server_default=""))
    op.add_column("revision", sa.Column("changed", sa.JSON(), nullable=False, server_default="{}"))
    op.add_column("revision", sa.Column("sent_sha256", sa.String(), nullable=False, server_default=""))
    op.add_column("attachment", sa.Column("removed_by", sa.String(), nullable=False, server_default=""))
    op.add_column("attachment", sa.Column("removed_at", sa.DateTime()))
    op.add_column("report", sa.Column("role", sa.String(), nullable=False, server_default=""))
    bind = op.get_bind()
    for row in bind.execute(sa.text("SELECT id, method, readings, settings FROM test ORDER BY id")).fetchall():
        _test(bind, *row)
    for name in ("readings", "unread", "settings", "origins"):
        op.drop_column("revision", name)


def _test(bind: sa.Connection, number: int, method: str, readings: str, settings: str) -> None:
    known = _DEFAULTS.get(method, {"version": "", "settings": {}})
    usual = known["settings"]
    uses = [
        name
        for (name,) in bind.execute(
            sa.text(
                "SELECT e.name FROM equipment e JOIN test_use u ON u.equipment_id = e.id WHERE u.test_id = :t ORDER BY"
                " e.name"
            ),
            {"t": number},
        )
    ]
    rows = bind.execute(
        sa.text(
            "SELECT id, who, what, readings, unread, settings, origins FROM revision WHERE test_id = :t ORDER BY number"
        ),
        {"t": number},
    ).fetchall()
    equipped = [i for i, row in enumerate(rows) if "equipment" in row[2].split("; ")]
    before: dict = {}
    chosen: dict = {}
    whence = dict.fromkeys(usual, "default")
    for i, (key, who, _, was, unread, had, origins) in enumerate(rows):
        mine = json.loads(had)
        whence |= {name: who for name, value in mine.items() if chosen.get(name) != value}
        whence |= {name: "default" for name in chosen if name not in mine}
        chosen = mine
        state = _flat(
            _put_away(bind, json.loads(was)),
            unread=json.loads(unread),
            settings=usual | mine,
            setting_origins=whence,
            origins=json.loads(origins or "{}"),
        )
        state["version:"] = known["version"]
        # Which pieces there were was not kept before now: only that they were changed, and by whom.
        at_last = i >= (equipped[-1] if equipped else 0)
        state["uses:"] = uses if at_last else before.get("uses:", []) if i not in equipped else [f"not recorded ({i})"]
        changed = {p: v for p, v in state.items() if p not in before or repr(before[p]) != repr(v)}
        gone = sorted(before.keys() - state.keys())
        delta = ({"set": changed} if changed else {}) | ({"cut": gone} if gone else {})
        bind.execute(sa.text("UPDATE revision SET changed = :c WHERE id = :i"), {"c": json.dumps(delta), "i": key})
        before = state
    own = json.loads(settings)
    whence |= {name: whence.get(name, "") if name in chosen else "" for name in own}
    bind.execute(
        sa.text("UPDATE test SET readings = :r, settings = :s, setting_origins = :o, version = :v WHERE id = :i"),
        {
            "r": json.dumps(_put_away(bind, json.loads(readings))),
            "s": json.dumps(usual | own),
            "o": json.dumps(whence),
            "v": known["version"],
            "i": number,
        },
    )


def _put_away(bind: sa.Connection, readings: dict) -> dict:
    """Return readings with every logger file named by its hash, its rows kept once."""
    kept = dict(readings)
    for name, value in readings.items():
        if isinstance(value, dict):
            data = json.dumps(value, sort_keys=True, separators=(",", ":"))
            sha = hashlib.sha256(data.encode()).hexdigest()
            bind.execute(sa.text("INSERT OR IGNORE INTO log_content VALUES (:s, :d)"), {"s": sha, "d": data})
            kept[name] = {"log": sha}
    return kept


def _flat(readings: dict, **parts: dict) -> dict:
    found: dict = {}
    for name, value in readings.items():
        if isinstance(value, list):
            found[f"readings:{name}.#"] = len(value)
            found |= {f"readings:{name}.{i}.{key}": cell for i, row in enumerate(value) for key, cell in row.items()}
        else:
            found[f"readings:{name}"] = value
    for part, values in parts.items():
        found |= {f"{part}:{path}": value for path, value in values.items()}
    return found


def downgrade() -> None:
    raise NotImplementedError("restore the copy that was made before this migration")
