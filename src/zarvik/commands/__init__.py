"""The commands of the command line, a file for each thing they are about."""
