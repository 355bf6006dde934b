"""Makes the stand-alone parser from the grammar before the package is built."""

import importlib.util
from pathlib import Path

from setuptools import setup

place = Path(__file__).parent / "src" / "gelvo" / "reading" / "generate.py"
spec = importlib.util.spec_from_file_location("generate", place)
generate = importlib.util.module_from_spec(spec)
spec.loader.exec_module(generate)
generate.write()
setup()
