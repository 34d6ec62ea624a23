"""Runs the built programs whose output the checks compare with reference libraries."""

import json
import os
import subprocess
from pathlib import Path

import pytest

ROOT = Path(__file__).resolve().parent.parent
TARGET = Path(os.environ.get("CARGO_TARGET_DIR", ROOT / "target")) / "debug"


@pytest.fixture
def kalotype():
    """Runs `kalotype` with arguments and returns its standard output."""

    def run(*arguments):
        done = subprocess.run([TARGET / "kalotype", *map(str, arguments)], capture_output=True, text=True, check=False)
        assert done.returncode == 0, done.stderr
        return done.stdout

    return run


@pytest.fixture
def example():
    """Runs an example program of the core and returns the JSON it prints."""

    def run(name, *arguments):
        program = TARGET / "examples" / name
        done = subprocess.run([program, *map(str, arguments)], capture_output=True, text=True, check=True)
        return json.loads(done.stdout)

    return run


@pytest.fixture
def set_words(example):
    """Sets words with the core and returns what came of it."""

    def run(face, height, tolerance, words):
        return example("set_words", face, height, tolerance, words)

    return run
