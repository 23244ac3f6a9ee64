"""``python -m fravik``: the same as the command. The current folder, which Python puts first on the path, may be a stranger's."""

from __future__ import annotations

import os
import sys

_HOME = os.path.dirname(os.path.dirname(os.path.abspath(__file__)))
sys.path[:] = [p for p in sys.path if p and (os.path.abspath(p) != os.getcwd() or os.path.abspath(p) == _HOME)]

from fravik.cli import main  # noqa: E402  only now is the path safe

sys.exit(main())
