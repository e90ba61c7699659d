"""A worker: ``python -m crumb.jobs`` works jobs off until it is stopped."""

from crumb.jobs.worker import main
from crumb.logs import set_up_logs

if __name__ == "__main__":
    set_up_logs()
    main()
