"""The demo scenario: two invented companies and their invented banks, generated the same every time."""

from netnaught.demo.build import DEMO_PASSWORD, DEMO_USERS, build_demo

__all__ = ["DEMO_PASSWORD", "DEMO_USERS", "build_demo"]
