import sys

from zygomorph.cli import main

sys.exit(main())
