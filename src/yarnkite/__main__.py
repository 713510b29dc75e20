"""``python -m yarnkite``."""

import sys

from yarnkite.cli import main

sys.exit(main())
