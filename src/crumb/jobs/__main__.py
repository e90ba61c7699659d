"""A worker: ``python -m crumb.jobs`` works jobs off until it is stopped."""

from crumb.jobs.app import worker_app

if __name__ == "__main__":
    # Reading a score is computing, not waiting: one at a time in each worker process.
    worker_app().run_worker(concurrency=1, wait=True, delete_jobs="successful")
