"""Tests see the shipped databank alone, whatever folder the user has."""

import os
import tempfile

os.environ["SLEETFIELD_COMPONENTS"] = os.path.join(tempfile.mkdtemp(prefix="sleetfield-tests-"), "none")
