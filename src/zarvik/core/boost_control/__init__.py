"""The boost that spring, solenoid and duty hold at a solved point."""
