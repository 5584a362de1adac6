"""Heat from gas to wall and from wall to the bay, through wrap, coating and shield."""
