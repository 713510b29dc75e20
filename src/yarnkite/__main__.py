"""``python -m yarnkite``."""

import sys

from yarnkite.cli.main import main

sys.exit(main())
