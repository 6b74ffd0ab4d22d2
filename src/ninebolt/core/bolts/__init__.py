"""Nine modules, donor to prove: assess(build) -> figures, findings, drawing."""
