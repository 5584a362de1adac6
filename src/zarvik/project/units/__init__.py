"""Units, quantities as typed, figures and sentences as shown."""
