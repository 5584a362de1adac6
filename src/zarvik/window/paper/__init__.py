"""What goes on paper: drawn with the charts of the benches, apart from the window."""
