from hypothesis import HealthCheck, settings

settings.register_profile("rhytonic", deadline=None, max_examples=60, derandomize=True, print_blob=True,
                          suppress_health_check=[HealthCheck.too_slow, HealthCheck.filter_too_much,
                                                 HealthCheck.data_too_large])
settings.load_profile("rhytonic")
