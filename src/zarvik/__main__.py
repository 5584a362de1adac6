"""`python -m zarvik`: the command line."""

from zarvik.cli import main

raise SystemExit(main())
