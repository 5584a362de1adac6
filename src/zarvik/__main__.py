"""`python -m zarvik`: the command line."""

from zarvik.launch import main

raise SystemExit(main())
