"""Records of the job: engine, capture, case, measurement. From files and hands; everything above works on them."""
