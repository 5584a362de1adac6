"""From pieces to the bench: templates to wrap round a tube, and stock cut with little waste."""
