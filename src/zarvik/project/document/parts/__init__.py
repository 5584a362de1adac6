"""The parts of the document, each with the metadata of its fields. A new field is a line here."""
