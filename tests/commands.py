"""The command line as it is called, in this process: what it prints, and its exit status; one test of each kind starts a process of its own."""

import contextlib
import io
import os
import sys
import warnings
from unittest import mock


class Done:
    """What came of a command."""

    def __init__(self, status, stdout, stderr):
        self.status, self.stdout, self.stderr = status, stdout, stderr


def call(*arguments, cwd=None):
    """Run ``sleetfield`` with arguments in a folder, as its entry point does."""
    from sleetfield.cli import main

    out, err = io.StringIO(), io.StringIO()
    status = 0
    with (
        contextlib.chdir(cwd or os.getcwd()),
        contextlib.redirect_stdout(out),
        contextlib.redirect_stderr(err),
        mock.patch.object(sys, "argv", ["sleetfield", *arguments]),
        mock.patch.object(sys, "stdin", io.StringIO()),
        warnings.catch_warnings(),
    ):
        try:
            main()
        except SystemExit as ended:
            status = ended.code or 0
    return Done(status, out.getvalue(), err.getvalue())


def run(*arguments, cwd=None, status=0):
    """What a command prints, to standard output where it should work and to standard error where it should not."""
    done = call(*arguments, cwd=cwd)
    assert done.status == status, done.stdout + done.stderr
    return done.stdout if status == 0 else done.stderr
