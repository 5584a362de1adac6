"""The relations that the program uses: where each holds, its source, its accuracy."""
