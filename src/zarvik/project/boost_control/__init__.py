"""What spring and solenoid of a document hold, told."""
