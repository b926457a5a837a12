"""The time at which benchmarks pretend to happen."""

from __future__ import annotations

from datetime import UTC, datetime

NOW = datetime(2026, 11, 2, 9, 0, tzinfo=UTC)
STAMP = "2026-11-02T09:00:00Z"
