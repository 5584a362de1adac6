"""The computation: physics and judgement in SI, without files, interface or display units."""
