"""Joints: flanges, gaskets, threads, hoses under clamps."""
