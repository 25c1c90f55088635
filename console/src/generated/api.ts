export interface paths {
  '/api/v1/calendar': {
    parameters: {
      query?: never
      header?: never
      path?: never
      cookie?: never
    }
    /**
     * Calendars
     * @description What is due for jobs, and whether it has arrived.
     */
    get: {
      parameters: {
        query?: {
          /** @description The name of a dataset. */
          dataset?: string
          /** @description How many periods, up to the present one. */
          periods?: number
        }
        header?: never
        path?: never
        cookie?: never
      }
      requestBody?: never
      responses: {
        /** @description OK */
        200: {
          headers: {
            [name: string]: unknown
          }
          content: {
            'application/json': components['schemas']['CalendarView'][]
          }
        }
        /** @description A parameter or the JSON is not what the call takes */
        400: {
          headers: {
            [name: string]: unknown
          }
          content: {
            'application/problem+json': components['schemas']['ProblemDetail']
          }
        }
        /** @description An error that was not foreseen; the service's log has more */
        500: {
          headers: {
            [name: string]: unknown
          }
          content: {
            'application/problem+json': components['schemas']['ProblemDetail']
          }
        }
        /** @description The catalogue cannot be used, mostly for the disk */
        503: {
          headers: {
            [name: string]: unknown
          }
          content: {
            'application/problem+json': components['schemas']['ProblemDetail']
          }
        }
      }
    }
    put?: never
    post?: never
    delete?: never
    options?: never
    head?: never
    patch?: never
    trace?: never
  }
  '/api/v1/datasets': {
    parameters: {
      query?: never
      header?: never
      path?: never
      cookie?: never
    }
    /**
     * Datasets
     * @description All datasets, with their rows and the mistakes of their files.
     */
    get: {
      parameters: {
        query?: never
        header?: never
        path?: never
        cookie?: never
      }
      requestBody?: never
      responses: {
        /** @description OK */
        200: {
          headers: {
            [name: string]: unknown
          }
          content: {
            'application/json': components['schemas']['DatasetView'][]
          }
        }
        /** @description A parameter or the JSON is not what the call takes */
        400: {
          headers: {
            [name: string]: unknown
          }
          content: {
            'application/problem+json': components['schemas']['ProblemDetail']
          }
        }
        /** @description A definition file has mistakes */
        422: {
          headers: {
            [name: string]: unknown
          }
          content: {
            'application/problem+json': components['schemas']['ProblemDetail']
          }
        }
        /** @description An error that was not foreseen; the service's log has more */
        500: {
          headers: {
            [name: string]: unknown
          }
          content: {
            'application/problem+json': components['schemas']['ProblemDetail']
          }
        }
        /** @description The catalogue cannot be used, mostly for the disk */
        503: {
          headers: {
            [name: string]: unknown
          }
          content: {
            'application/problem+json': components['schemas']['ProblemDetail']
          }
        }
      }
    }
    put?: never
    post?: never
    delete?: never
    options?: never
    head?: never
    patch?: never
    trace?: never
  }
  '/api/v1/datasets/{dataset}': {
    parameters: {
      query?: never
      header?: never
      path?: never
      cookie?: never
    }
    /**
     * Dataset
     * @description A dataset: its columns, the text of its file, and what each job brought.
     */
    get: {
      parameters: {
        query?: never
        header?: never
        path: {
          /** @description The name of a dataset. */
          dataset: string
        }
        cookie?: never
      }
      requestBody?: never
      responses: {
        /** @description OK */
        200: {
          headers: {
            [name: string]: unknown
          }
          content: {
            'application/json': components['schemas']['DatasetDetail']
          }
        }
        /** @description A parameter or the JSON is not what the call takes */
        400: {
          headers: {
            [name: string]: unknown
          }
          content: {
            'application/problem+json': components['schemas']['ProblemDetail']
          }
        }
        /** @description There is nothing of that name or number */
        404: {
          headers: {
            [name: string]: unknown
          }
          content: {
            'application/problem+json': components['schemas']['ProblemDetail']
          }
        }
        /** @description Something stands in the way: a run, a change by somebody else, rows stored otherwise */
        409: {
          headers: {
            [name: string]: unknown
          }
          content: {
            'application/problem+json': components['schemas']['ProblemDetail']
          }
        }
        /** @description A definition file has mistakes */
        422: {
          headers: {
            [name: string]: unknown
          }
          content: {
            'application/problem+json': components['schemas']['ProblemDetail']
          }
        }
        /** @description An error that was not foreseen; the service's log has more */
        500: {
          headers: {
            [name: string]: unknown
          }
          content: {
            'application/problem+json': components['schemas']['ProblemDetail']
          }
        }
        /** @description The catalogue cannot be used, mostly for the disk */
        503: {
          headers: {
            [name: string]: unknown
          }
          content: {
            'application/problem+json': components['schemas']['ProblemDetail']
          }
        }
      }
    }
    /**
     * Save
     * @description Writes a dataset's file; makes the dataset where there is none of that name.
     */
    put: {
      parameters: {
        query?: never
        header?: never
        path: {
          /** @description The name of a dataset. */
          dataset: string
        }
        cookie?: never
      }
      requestBody: {
        content: {
          'application/json': components['schemas']['SaveDatasetRequest']
        }
      }
      responses: {
        /** @description OK */
        200: {
          headers: {
            [name: string]: unknown
          }
          content: {
            'application/json': components['schemas']['DatasetDetail']
          }
        }
        /** @description Made */
        201: {
          headers: {
            [name: string]: unknown
          }
          content: {
            'application/json': components['schemas']['DatasetDetail']
          }
        }
        /** @description A parameter or the JSON is not what the call takes */
        400: {
          headers: {
            [name: string]: unknown
          }
          content: {
            'application/problem+json': components['schemas']['ProblemDetail']
          }
        }
        /** @description There is nothing of that name or number */
        404: {
          headers: {
            [name: string]: unknown
          }
          content: {
            'application/problem+json': components['schemas']['ProblemDetail']
          }
        }
        /** @description Something stands in the way: a run, a change by somebody else, rows stored otherwise */
        409: {
          headers: {
            [name: string]: unknown
          }
          content: {
            'application/problem+json': components['schemas']['ProblemDetail']
          }
        }
        /** @description A definition file has mistakes */
        422: {
          headers: {
            [name: string]: unknown
          }
          content: {
            'application/problem+json': components['schemas']['ProblemDetail']
          }
        }
        /** @description An error that was not foreseen; the service's log has more */
        500: {
          headers: {
            [name: string]: unknown
          }
          content: {
            'application/problem+json': components['schemas']['ProblemDetail']
          }
        }
        /** @description The catalogue cannot be used, mostly for the disk */
        503: {
          headers: {
            [name: string]: unknown
          }
          content: {
            'application/problem+json': components['schemas']['ProblemDetail']
          }
        }
      }
    }
    post?: never
    /**
     * Delete
     * @description Deletes a dataset that holds no rows and that no job loads into.
     */
    delete: {
      parameters: {
        query?: never
        header?: never
        path: {
          /** @description The name of a dataset. */
          dataset: string
        }
        cookie?: never
      }
      requestBody?: never
      responses: {
        /** @description No Content */
        204: {
          headers: {
            [name: string]: unknown
          }
          content?: never
        }
        /** @description A parameter or the JSON is not what the call takes */
        400: {
          headers: {
            [name: string]: unknown
          }
          content: {
            'application/problem+json': components['schemas']['ProblemDetail']
          }
        }
        /** @description There is nothing of that name or number */
        404: {
          headers: {
            [name: string]: unknown
          }
          content: {
            'application/problem+json': components['schemas']['ProblemDetail']
          }
        }
        /** @description Something stands in the way: a run, a change by somebody else, rows stored otherwise */
        409: {
          headers: {
            [name: string]: unknown
          }
          content: {
            'application/problem+json': components['schemas']['ProblemDetail']
          }
        }
        /** @description A definition file has mistakes */
        422: {
          headers: {
            [name: string]: unknown
          }
          content: {
            'application/problem+json': components['schemas']['ProblemDetail']
          }
        }
        /** @description An error that was not foreseen; the service's log has more */
        500: {
          headers: {
            [name: string]: unknown
          }
          content: {
            'application/problem+json': components['schemas']['ProblemDetail']
          }
        }
        /** @description The catalogue cannot be used, mostly for the disk */
        503: {
          headers: {
            [name: string]: unknown
          }
          content: {
            'application/problem+json': components['schemas']['ProblemDetail']
          }
        }
      }
    }
    options?: never
    head?: never
    patch?: never
    trace?: never
  }
  '/api/v1/datasets/{dataset}/copy': {
    parameters: {
      query?: never
      header?: never
      path?: never
      cookie?: never
    }
    get?: never
    put?: never
    /**
     * Copy
     * @description Makes a dataset with the columns of another one, and no rows.
     */
    post: {
      parameters: {
        query?: never
        header?: never
        path: {
          /** @description The name of a dataset. */
          dataset: string
        }
        cookie?: never
      }
      requestBody: {
        content: {
          'application/json': components['schemas']['NameRequest']
        }
      }
      responses: {
        /** @description Created */
        201: {
          headers: {
            [name: string]: unknown
          }
          content: {
            'application/json': components['schemas']['DatasetDetail']
          }
        }
        /** @description A parameter or the JSON is not what the call takes */
        400: {
          headers: {
            [name: string]: unknown
          }
          content: {
            'application/problem+json': components['schemas']['ProblemDetail']
          }
        }
        /** @description There is nothing of that name or number */
        404: {
          headers: {
            [name: string]: unknown
          }
          content: {
            'application/problem+json': components['schemas']['ProblemDetail']
          }
        }
        /** @description Something stands in the way: a run, a change by somebody else, rows stored otherwise */
        409: {
          headers: {
            [name: string]: unknown
          }
          content: {
            'application/problem+json': components['schemas']['ProblemDetail']
          }
        }
        /** @description A definition file has mistakes */
        422: {
          headers: {
            [name: string]: unknown
          }
          content: {
            'application/problem+json': components['schemas']['ProblemDetail']
          }
        }
        /** @description An error that was not foreseen; the service's log has more */
        500: {
          headers: {
            [name: string]: unknown
          }
          content: {
            'application/problem+json': components['schemas']['ProblemDetail']
          }
        }
        /** @description The catalogue cannot be used, mostly for the disk */
        503: {
          headers: {
            [name: string]: unknown
          }
          content: {
            'application/problem+json': components['schemas']['ProblemDetail']
          }
        }
      }
    }
    delete?: never
    options?: never
    head?: never
    patch?: never
    trace?: never
  }
  '/api/v1/datasets/{dataset}/counts': {
    parameters: {
      query?: never
      header?: never
      path?: never
      cookie?: never
    }
    /**
     * Counts
     * @description Rows counted by columns, with sums, means and the like of others.
     */
    get: {
      parameters: {
        query?: {
          /** @description Columns to count by, several times or separated by commas; dates also as sampled_at:month (:year, :quarter, :month, :week, :day, :hour). */
          by?: string[]
          /** @description What is found out in each group: sum(COLUMN), mean(COLUMN), min(COLUMN), max(COLUMN) or count(COLUMN), several times or separated by commas. */
          measures?: string[]
          /** @description Whether parts that are missing or damaged are left out; otherwise there is no answer then. */
          partial?: boolean
          /** @description Columns to sort by, several times or separated by commas; with - in front descending. */
          sort?: string[]
          /** @description Only so many groups, the largest unless sort says otherwise; the rest are put together. */
          top?: number
          /** @description Conditions such as value >= 5 and lab in (North, East), as docs/queries.md describes them; where it is given several times, all must hold. */
          where?: string[]
        }
        header?: never
        path: {
          /** @description The name of a dataset. */
          dataset: string
        }
        cookie?: never
      }
      requestBody?: never
      responses: {
        /** @description OK */
        200: {
          headers: {
            [name: string]: unknown
          }
          content: {
            'application/json': components['schemas']['CountsView']
          }
        }
        /** @description A parameter or the JSON is not what the call takes */
        400: {
          headers: {
            [name: string]: unknown
          }
          content: {
            'application/problem+json': components['schemas']['ProblemDetail']
          }
        }
        /** @description There is nothing of that name or number */
        404: {
          headers: {
            [name: string]: unknown
          }
          content: {
            'application/problem+json': components['schemas']['ProblemDetail']
          }
        }
        /** @description Something stands in the way: a run, a change by somebody else, rows stored otherwise */
        409: {
          headers: {
            [name: string]: unknown
          }
          content: {
            'application/problem+json': components['schemas']['ProblemDetail']
          }
        }
        /** @description A definition file has mistakes */
        422: {
          headers: {
            [name: string]: unknown
          }
          content: {
            'application/problem+json': components['schemas']['ProblemDetail']
          }
        }
        /** @description An error that was not foreseen; the service's log has more */
        500: {
          headers: {
            [name: string]: unknown
          }
          content: {
            'application/problem+json': components['schemas']['ProblemDetail']
          }
        }
        /** @description The catalogue cannot be used, mostly for the disk */
        503: {
          headers: {
            [name: string]: unknown
          }
          content: {
            'application/problem+json': components['schemas']['ProblemDetail']
          }
        }
      }
    }
    put?: never
    post?: never
    delete?: never
    options?: never
    head?: never
    patch?: never
    trace?: never
  }
  '/api/v1/datasets/{dataset}/deliveries': {
    parameters: {
      query?: never
      header?: never
      path?: never
      cookie?: never
    }
    /**
     * Deliveries
     * @description Deliveries of a dataset, each with how it went last.
     */
    get: {
      parameters: {
        query?: never
        header?: never
        path: {
          /** @description The name of a dataset. */
          dataset: string
        }
        cookie?: never
      }
      requestBody?: never
      responses: {
        /** @description OK */
        200: {
          headers: {
            [name: string]: unknown
          }
          content: {
            'application/json': components['schemas']['DeliveryView'][]
          }
        }
        /** @description A parameter or the JSON is not what the call takes */
        400: {
          headers: {
            [name: string]: unknown
          }
          content: {
            'application/problem+json': components['schemas']['ProblemDetail']
          }
        }
        /** @description There is nothing of that name or number */
        404: {
          headers: {
            [name: string]: unknown
          }
          content: {
            'application/problem+json': components['schemas']['ProblemDetail']
          }
        }
        /** @description Something stands in the way: a run, a change by somebody else, rows stored otherwise */
        409: {
          headers: {
            [name: string]: unknown
          }
          content: {
            'application/problem+json': components['schemas']['ProblemDetail']
          }
        }
        /** @description A definition file has mistakes */
        422: {
          headers: {
            [name: string]: unknown
          }
          content: {
            'application/problem+json': components['schemas']['ProblemDetail']
          }
        }
        /** @description An error that was not foreseen; the service's log has more */
        500: {
          headers: {
            [name: string]: unknown
          }
          content: {
            'application/problem+json': components['schemas']['ProblemDetail']
          }
        }
        /** @description The catalogue cannot be used, mostly for the disk */
        503: {
          headers: {
            [name: string]: unknown
          }
          content: {
            'application/problem+json': components['schemas']['ProblemDetail']
          }
        }
      }
    }
    put?: never
    post?: never
    delete?: never
    options?: never
    head?: never
    patch?: never
    trace?: never
  }
  '/api/v1/datasets/{dataset}/deliveries/{delivery}': {
    parameters: {
      query?: never
      header?: never
      path?: never
      cookie?: never
    }
    /**
     * Delivery
     * @description A delivery, its files and its history.
     */
    get: {
      parameters: {
        query?: never
        header?: never
        path: {
          /** @description The name of a dataset. */
          dataset: string
          /** @description Name of a delivery that the dataset's file declares. */
          delivery: string
        }
        cookie?: never
      }
      requestBody?: never
      responses: {
        /** @description OK */
        200: {
          headers: {
            [name: string]: unknown
          }
          content: {
            'application/json': components['schemas']['DeliveryDetail']
          }
        }
        /** @description A parameter or the JSON is not what the call takes */
        400: {
          headers: {
            [name: string]: unknown
          }
          content: {
            'application/problem+json': components['schemas']['ProblemDetail']
          }
        }
        /** @description There is nothing of that name or number */
        404: {
          headers: {
            [name: string]: unknown
          }
          content: {
            'application/problem+json': components['schemas']['ProblemDetail']
          }
        }
        /** @description Something stands in the way: a run, a change by somebody else, rows stored otherwise */
        409: {
          headers: {
            [name: string]: unknown
          }
          content: {
            'application/problem+json': components['schemas']['ProblemDetail']
          }
        }
        /** @description A definition file has mistakes */
        422: {
          headers: {
            [name: string]: unknown
          }
          content: {
            'application/problem+json': components['schemas']['ProblemDetail']
          }
        }
        /** @description An error that was not foreseen; the service's log has more */
        500: {
          headers: {
            [name: string]: unknown
          }
          content: {
            'application/problem+json': components['schemas']['ProblemDetail']
          }
        }
        /** @description The catalogue cannot be used, mostly for the disk */
        503: {
          headers: {
            [name: string]: unknown
          }
          content: {
            'application/problem+json': components['schemas']['ProblemDetail']
          }
        }
      }
    }
    put?: never
    /**
     * Deliver
     * @description Has a delivery done, as soon as those before it are; says under which number it is found.
     */
    post: {
      parameters: {
        query?: never
        header?: never
        path: {
          /** @description The name of a dataset. */
          dataset: string
          /** @description Name of a delivery that the dataset's file declares. */
          delivery: string
        }
        cookie?: never
      }
      requestBody?: never
      responses: {
        /** @description OK */
        200: {
          headers: {
            [name: string]: unknown
          }
          content: {
            'application/json': components['schemas']['Called']
          }
        }
        /** @description A parameter or the JSON is not what the call takes */
        400: {
          headers: {
            [name: string]: unknown
          }
          content: {
            'application/problem+json': components['schemas']['ProblemDetail']
          }
        }
        /** @description There is nothing of that name or number */
        404: {
          headers: {
            [name: string]: unknown
          }
          content: {
            'application/problem+json': components['schemas']['ProblemDetail']
          }
        }
        /** @description Something stands in the way: a run, a change by somebody else, rows stored otherwise */
        409: {
          headers: {
            [name: string]: unknown
          }
          content: {
            'application/problem+json': components['schemas']['ProblemDetail']
          }
        }
        /** @description A definition file has mistakes */
        422: {
          headers: {
            [name: string]: unknown
          }
          content: {
            'application/problem+json': components['schemas']['ProblemDetail']
          }
        }
        /** @description An error that was not foreseen; the service's log has more */
        500: {
          headers: {
            [name: string]: unknown
          }
          content: {
            'application/problem+json': components['schemas']['ProblemDetail']
          }
        }
        /** @description The catalogue cannot be used, mostly for the disk */
        503: {
          headers: {
            [name: string]: unknown
          }
          content: {
            'application/problem+json': components['schemas']['ProblemDetail']
          }
        }
      }
    }
    delete?: never
    options?: never
    head?: never
    patch?: never
    trace?: never
  }
  '/api/v1/datasets/{dataset}/deliveries/{delivery}/trial': {
    parameters: {
      query?: never
      header?: never
      path?: never
      cookie?: never
    }
    get?: never
    put?: never
    /**
     * Trial
     * @description What a delivery would do. Nothing is written.
     */
    post: {
      parameters: {
        query?: never
        header?: never
        path: {
          /** @description The name of a dataset. */
          dataset: string
          /** @description Name of a delivery that the dataset's file declares. */
          delivery: string
        }
        cookie?: never
      }
      requestBody?: never
      responses: {
        /** @description OK */
        200: {
          headers: {
            [name: string]: unknown
          }
          content: {
            'application/json': components['schemas']['HandoverView']
          }
        }
        /** @description A parameter or the JSON is not what the call takes */
        400: {
          headers: {
            [name: string]: unknown
          }
          content: {
            'application/problem+json': components['schemas']['ProblemDetail']
          }
        }
        /** @description There is nothing of that name or number */
        404: {
          headers: {
            [name: string]: unknown
          }
          content: {
            'application/problem+json': components['schemas']['ProblemDetail']
          }
        }
        /** @description Something stands in the way: a run, a change by somebody else, rows stored otherwise */
        409: {
          headers: {
            [name: string]: unknown
          }
          content: {
            'application/problem+json': components['schemas']['ProblemDetail']
          }
        }
        /** @description A definition file has mistakes */
        422: {
          headers: {
            [name: string]: unknown
          }
          content: {
            'application/problem+json': components['schemas']['ProblemDetail']
          }
        }
        /** @description An error that was not foreseen; the service's log has more */
        500: {
          headers: {
            [name: string]: unknown
          }
          content: {
            'application/problem+json': components['schemas']['ProblemDetail']
          }
        }
        /** @description The catalogue cannot be used, mostly for the disk */
        503: {
          headers: {
            [name: string]: unknown
          }
          content: {
            'application/problem+json': components['schemas']['ProblemDetail']
          }
        }
      }
    }
    delete?: never
    options?: never
    head?: never
    patch?: never
    trace?: never
  }
  '/api/v1/datasets/{dataset}/deliveries/{delivery}/{number}': {
    parameters: {
      query?: never
      header?: never
      path?: never
      cookie?: never
    }
    /**
     * Handover
     * @description One time that a delivery was done, or is to be done.
     */
    get: {
      parameters: {
        query?: never
        header?: never
        path: {
          /** @description The name of a dataset. */
          dataset: string
          /** @description Name of a delivery that the dataset's file declares. */
          delivery: string
          /** @description The number under which a delivery is found. */
          number: number
        }
        cookie?: never
      }
      requestBody?: never
      responses: {
        /** @description OK */
        200: {
          headers: {
            [name: string]: unknown
          }
          content: {
            'application/json': components['schemas']['HandoverView']
          }
        }
        /** @description A parameter or the JSON is not what the call takes */
        400: {
          headers: {
            [name: string]: unknown
          }
          content: {
            'application/problem+json': components['schemas']['ProblemDetail']
          }
        }
        /** @description There is nothing of that name or number */
        404: {
          headers: {
            [name: string]: unknown
          }
          content: {
            'application/problem+json': components['schemas']['ProblemDetail']
          }
        }
        /** @description Something stands in the way: a run, a change by somebody else, rows stored otherwise */
        409: {
          headers: {
            [name: string]: unknown
          }
          content: {
            'application/problem+json': components['schemas']['ProblemDetail']
          }
        }
        /** @description A definition file has mistakes */
        422: {
          headers: {
            [name: string]: unknown
          }
          content: {
            'application/problem+json': components['schemas']['ProblemDetail']
          }
        }
        /** @description An error that was not foreseen; the service's log has more */
        500: {
          headers: {
            [name: string]: unknown
          }
          content: {
            'application/problem+json': components['schemas']['ProblemDetail']
          }
        }
        /** @description The catalogue cannot be used, mostly for the disk */
        503: {
          headers: {
            [name: string]: unknown
          }
          content: {
            'application/problem+json': components['schemas']['ProblemDetail']
          }
        }
      }
    }
    put?: never
    post?: never
    delete?: never
    options?: never
    head?: never
    patch?: never
    trace?: never
  }
  '/api/v1/datasets/{dataset}/edit': {
    parameters: {
      query?: never
      header?: never
      path?: never
      cookie?: never
    }
    get?: never
    put?: never
    /**
     * Dataset
     * @description Makes changes in the text of a dataset without saving it, and says what is wrong with it.
     */
    post: {
      parameters: {
        query?: never
        header?: never
        path: {
          /** @description The name of a dataset. */
          dataset: string
        }
        cookie?: never
      }
      requestBody: {
        content: {
          'application/json': components['schemas']['EditRequest']
        }
      }
      responses: {
        /** @description OK */
        200: {
          headers: {
            [name: string]: unknown
          }
          content: {
            'application/json': components['schemas']['EditView']
          }
        }
        /** @description A parameter or the JSON is not what the call takes */
        400: {
          headers: {
            [name: string]: unknown
          }
          content: {
            'application/problem+json': components['schemas']['ProblemDetail']
          }
        }
        /** @description There is nothing of that name or number */
        404: {
          headers: {
            [name: string]: unknown
          }
          content: {
            'application/problem+json': components['schemas']['ProblemDetail']
          }
        }
        /** @description Something stands in the way: a run, a change by somebody else, rows stored otherwise */
        409: {
          headers: {
            [name: string]: unknown
          }
          content: {
            'application/problem+json': components['schemas']['ProblemDetail']
          }
        }
        /** @description A definition file has mistakes */
        422: {
          headers: {
            [name: string]: unknown
          }
          content: {
            'application/problem+json': components['schemas']['ProblemDetail']
          }
        }
        /** @description An error that was not foreseen; the service's log has more */
        500: {
          headers: {
            [name: string]: unknown
          }
          content: {
            'application/problem+json': components['schemas']['ProblemDetail']
          }
        }
        /** @description The catalogue cannot be used, mostly for the disk */
        503: {
          headers: {
            [name: string]: unknown
          }
          content: {
            'application/problem+json': components['schemas']['ProblemDetail']
          }
        }
      }
    }
    delete?: never
    options?: never
    head?: never
    patch?: never
    trace?: never
  }
  '/api/v1/datasets/{dataset}/export': {
    parameters: {
      query?: never
      header?: never
      path?: never
      cookie?: never
    }
    /**
     * Export
     * @description Rows as a file for other programs. An export that cannot be written fails before its first byte.
     */
    get: {
      parameters: {
        query?: {
          /** @description The format of the file. */
          as?: string
          /** @description Which columns, in this order, several times or separated by commas; all where none is named. In exports each also as lab as Laboratory. */
          columns?: string[]
          /** @description A pattern (CLDR) for dates in text formats, such as dd.MM.yyyy; usually ISO 8601. */
          dates?: string
          /** @description The decimal mark of CSV: a point or a comma. */
          decimal?: string
          /** @description The element of a row in XML. */
          element?: string
          /** @description The encoding of CSV; usually UTF-8. */
          encoding?: string
          /** @description Whether CSV begins with the names of the columns. */
          header?: boolean
          /** @description Whether the columns that say where a row comes from are among them. */
          origins?: boolean
          /** @description Whether parts that are missing or damaged are left out; otherwise there is no answer then. */
          partial?: boolean
          /** @description Whether every field of CSV is quoted. */
          quote_all?: boolean
          /** @description The outermost element of XML. */
          root?: string
          /** @description Whether texts in CSV that a spreadsheet would take for a formula get an apostrophe in front. */
          safe?: boolean
          /** @description The character between the fields of CSV, or tab. */
          separator?: string
          /** @description Columns to sort by, several times or separated by commas; with - in front descending. */
          sort?: string[]
          /** @description A pattern (CLDR) for timestamps in text formats, such as dd.MM.yyyy HH:mm. */
          timestamps?: string
          /** @description Conditions such as value >= 5 and lab in (North, East), as docs/queries.md describes them; where it is given several times, all must hold. */
          where?: string[]
        }
        header?: never
        path: {
          /** @description The name of a dataset. */
          dataset: string
        }
        cookie?: never
      }
      requestBody?: never
      responses: {
        /** @description OK */
        200: {
          headers: {
            [name: string]: unknown
          }
          content?: never
        }
        /** @description A parameter or the JSON is not what the call takes */
        400: {
          headers: {
            [name: string]: unknown
          }
          content: {
            'application/problem+json': components['schemas']['ProblemDetail']
          }
        }
        /** @description There is nothing of that name or number */
        404: {
          headers: {
            [name: string]: unknown
          }
          content: {
            'application/problem+json': components['schemas']['ProblemDetail']
          }
        }
        /** @description Something stands in the way: a run, a change by somebody else, rows stored otherwise */
        409: {
          headers: {
            [name: string]: unknown
          }
          content: {
            'application/problem+json': components['schemas']['ProblemDetail']
          }
        }
        /** @description A definition file has mistakes */
        422: {
          headers: {
            [name: string]: unknown
          }
          content: {
            'application/problem+json': components['schemas']['ProblemDetail']
          }
        }
        /** @description An error that was not foreseen; the service's log has more */
        500: {
          headers: {
            [name: string]: unknown
          }
          content: {
            'application/problem+json': components['schemas']['ProblemDetail']
          }
        }
        /** @description The catalogue cannot be used, mostly for the disk */
        503: {
          headers: {
            [name: string]: unknown
          }
          content: {
            'application/problem+json': components['schemas']['ProblemDetail']
          }
        }
      }
    }
    put?: never
    post?: never
    delete?: never
    options?: never
    head?: never
    patch?: never
    trace?: never
  }
  '/api/v1/datasets/{dataset}/export/elsewhere': {
    parameters: {
      query?: never
      header?: never
      path?: never
      cookie?: never
    }
    get?: never
    put?: never
    /**
     * Send
     * @description All rows as a file on another machine.
     */
    post: {
      parameters: {
        query?: {
          /** @description The format of the file. */
          as?: string
          /** @description Which columns, in this order, several times or separated by commas; all where none is named. In exports each also as lab as Laboratory. */
          columns?: string[]
          /** @description A pattern (CLDR) for dates in text formats, such as dd.MM.yyyy; usually ISO 8601. */
          dates?: string
          /** @description The decimal mark of CSV: a point or a comma. */
          decimal?: string
          /** @description The element of a row in XML. */
          element?: string
          /** @description The encoding of CSV; usually UTF-8. */
          encoding?: string
          /** @description Whether CSV begins with the names of the columns. */
          header?: boolean
          /** @description Whether the columns that say where a row comes from are among them. */
          origins?: boolean
          /** @description Whether parts that are missing or damaged are left out; otherwise there is no answer then. */
          partial?: boolean
          /** @description Whether every field of CSV is quoted. */
          quote_all?: boolean
          /** @description The outermost element of XML. */
          root?: string
          /** @description Whether texts in CSV that a spreadsheet would take for a formula get an apostrophe in front. */
          safe?: boolean
          /** @description The character between the fields of CSV, or tab. */
          separator?: string
          /** @description Columns to sort by, several times or separated by commas; with - in front descending. */
          sort?: string[]
          /** @description A pattern (CLDR) for timestamps in text formats, such as dd.MM.yyyy HH:mm. */
          timestamps?: string
          /** @description Conditions such as value >= 5 and lab in (North, East), as docs/queries.md describes them; where it is given several times, all must hold. */
          where?: string[]
        }
        header?: never
        path: {
          /** @description The name of a dataset. */
          dataset: string
        }
        cookie?: never
      }
      requestBody: {
        content: {
          'application/json': components['schemas']['SendRequest']
        }
      }
      responses: {
        /** @description OK */
        200: {
          headers: {
            [name: string]: unknown
          }
          content: {
            'application/json': components['schemas']['SentView']
          }
        }
        /** @description A parameter or the JSON is not what the call takes */
        400: {
          headers: {
            [name: string]: unknown
          }
          content: {
            'application/problem+json': components['schemas']['ProblemDetail']
          }
        }
        /** @description There is nothing of that name or number */
        404: {
          headers: {
            [name: string]: unknown
          }
          content: {
            'application/problem+json': components['schemas']['ProblemDetail']
          }
        }
        /** @description Something stands in the way: a run, a change by somebody else, rows stored otherwise */
        409: {
          headers: {
            [name: string]: unknown
          }
          content: {
            'application/problem+json': components['schemas']['ProblemDetail']
          }
        }
        /** @description A definition file has mistakes */
        422: {
          headers: {
            [name: string]: unknown
          }
          content: {
            'application/problem+json': components['schemas']['ProblemDetail']
          }
        }
        /** @description An error that was not foreseen; the service's log has more */
        500: {
          headers: {
            [name: string]: unknown
          }
          content: {
            'application/problem+json': components['schemas']['ProblemDetail']
          }
        }
        /** @description The catalogue cannot be used, mostly for the disk */
        503: {
          headers: {
            [name: string]: unknown
          }
          content: {
            'application/problem+json': components['schemas']['ProblemDetail']
          }
        }
      }
    }
    delete?: never
    options?: never
    head?: never
    patch?: never
    trace?: never
  }
  '/api/v1/datasets/{dataset}/export/sheet': {
    parameters: {
      query?: never
      header?: never
      path?: never
      cookie?: never
    }
    get?: never
    put?: never
    /**
     * Sheet
     * @description A workbook with rows in one of its sheets; all else in it stays as it is.
     */
    post: {
      parameters: {
        query?: {
          /** @description Whether the rows go below the last one of the sheet; otherwise they take the place of all. */
          below?: boolean
          /** @description Which columns, in this order, several times or separated by commas; all where none is named. In exports each also as lab as Laboratory. */
          columns?: string[]
          /** @description Whether the columns that say where a row comes from are among them. */
          origins?: boolean
          /** @description Whether parts that are missing or damaged are left out; otherwise there is no answer then. */
          partial?: boolean
          /** @description The name of a sheet; it is added where the workbook has none of this name. */
          sheet?: string
          /** @description Columns to sort by, several times or separated by commas; with - in front descending. */
          sort?: string[]
          /** @description Conditions such as value >= 5 and lab in (North, East), as docs/queries.md describes them; where it is given several times, all must hold. */
          where?: string[]
        }
        header?: never
        path: {
          /** @description The name of a dataset. */
          dataset: string
        }
        cookie?: never
      }
      requestBody: {
        content: {
          'application/json': components['schemas']['SheetRequest']
        }
      }
      responses: {
        /** @description OK */
        200: {
          headers: {
            [name: string]: unknown
          }
          content?: never
        }
        /** @description A parameter or the JSON is not what the call takes */
        400: {
          headers: {
            [name: string]: unknown
          }
          content: {
            'application/problem+json': components['schemas']['ProblemDetail']
          }
        }
        /** @description There is nothing of that name or number */
        404: {
          headers: {
            [name: string]: unknown
          }
          content: {
            'application/problem+json': components['schemas']['ProblemDetail']
          }
        }
        /** @description Something stands in the way: a run, a change by somebody else, rows stored otherwise */
        409: {
          headers: {
            [name: string]: unknown
          }
          content: {
            'application/problem+json': components['schemas']['ProblemDetail']
          }
        }
        /** @description A definition file has mistakes */
        422: {
          headers: {
            [name: string]: unknown
          }
          content: {
            'application/problem+json': components['schemas']['ProblemDetail']
          }
        }
        /** @description An error that was not foreseen; the service's log has more */
        500: {
          headers: {
            [name: string]: unknown
          }
          content: {
            'application/problem+json': components['schemas']['ProblemDetail']
          }
        }
        /** @description The catalogue cannot be used, mostly for the disk */
        503: {
          headers: {
            [name: string]: unknown
          }
          content: {
            'application/problem+json': components['schemas']['ProblemDetail']
          }
        }
      }
    }
    delete?: never
    options?: never
    head?: never
    patch?: never
    trace?: never
  }
  '/api/v1/datasets/{dataset}/parts': {
    parameters: {
      query?: never
      header?: never
      path?: never
      cookie?: never
    }
    /**
     * Parts
     * @description Where the rows of a dataset lie, for programs that read Parquet themselves.
     */
    get: {
      parameters: {
        query?: never
        header?: never
        path: {
          /** @description The name of a dataset. */
          dataset: string
        }
        cookie?: never
      }
      requestBody?: never
      responses: {
        /** @description OK */
        200: {
          headers: {
            [name: string]: unknown
          }
          content: {
            'application/json': components['schemas']['PartView'][]
          }
        }
        /** @description A parameter or the JSON is not what the call takes */
        400: {
          headers: {
            [name: string]: unknown
          }
          content: {
            'application/problem+json': components['schemas']['ProblemDetail']
          }
        }
        /** @description There is nothing of that name or number */
        404: {
          headers: {
            [name: string]: unknown
          }
          content: {
            'application/problem+json': components['schemas']['ProblemDetail']
          }
        }
        /** @description Something stands in the way: a run, a change by somebody else, rows stored otherwise */
        409: {
          headers: {
            [name: string]: unknown
          }
          content: {
            'application/problem+json': components['schemas']['ProblemDetail']
          }
        }
        /** @description A definition file has mistakes */
        422: {
          headers: {
            [name: string]: unknown
          }
          content: {
            'application/problem+json': components['schemas']['ProblemDetail']
          }
        }
        /** @description An error that was not foreseen; the service's log has more */
        500: {
          headers: {
            [name: string]: unknown
          }
          content: {
            'application/problem+json': components['schemas']['ProblemDetail']
          }
        }
        /** @description The catalogue cannot be used, mostly for the disk */
        503: {
          headers: {
            [name: string]: unknown
          }
          content: {
            'application/problem+json': components['schemas']['ProblemDetail']
          }
        }
      }
    }
    put?: never
    post?: never
    delete?: never
    options?: never
    head?: never
    patch?: never
    trace?: never
  }
  '/api/v1/datasets/{dataset}/profile': {
    parameters: {
      query?: never
      header?: never
      path?: never
      cookie?: never
    }
    /**
     * Profile
     * @description What columns hold: empty, different, frequent, smallest and largest values, and what looks odd.
     */
    get: {
      parameters: {
        query?: {
          /** @description Which columns, in this order, several times or separated by commas; all where none is named. In exports each also as lab as Laboratory. */
          columns?: string[]
          /** @description Whether nothing is estimated, which takes much longer. */
          exact?: boolean
          /** @description Whether parts that are missing or damaged are left out; otherwise there is no answer then. */
          partial?: boolean
          /** @description Conditions such as value >= 5 and lab in (North, East), as docs/queries.md describes them; where it is given several times, all must hold. */
          where?: string[]
        }
        header?: never
        path: {
          /** @description The name of a dataset. */
          dataset: string
        }
        cookie?: never
      }
      requestBody?: never
      responses: {
        /** @description OK */
        200: {
          headers: {
            [name: string]: unknown
          }
          content: {
            'application/json': components['schemas']['ProfileView']
          }
        }
        /** @description A parameter or the JSON is not what the call takes */
        400: {
          headers: {
            [name: string]: unknown
          }
          content: {
            'application/problem+json': components['schemas']['ProblemDetail']
          }
        }
        /** @description There is nothing of that name or number */
        404: {
          headers: {
            [name: string]: unknown
          }
          content: {
            'application/problem+json': components['schemas']['ProblemDetail']
          }
        }
        /** @description Something stands in the way: a run, a change by somebody else, rows stored otherwise */
        409: {
          headers: {
            [name: string]: unknown
          }
          content: {
            'application/problem+json': components['schemas']['ProblemDetail']
          }
        }
        /** @description A definition file has mistakes */
        422: {
          headers: {
            [name: string]: unknown
          }
          content: {
            'application/problem+json': components['schemas']['ProblemDetail']
          }
        }
        /** @description An error that was not foreseen; the service's log has more */
        500: {
          headers: {
            [name: string]: unknown
          }
          content: {
            'application/problem+json': components['schemas']['ProblemDetail']
          }
        }
        /** @description The catalogue cannot be used, mostly for the disk */
        503: {
          headers: {
            [name: string]: unknown
          }
          content: {
            'application/problem+json': components['schemas']['ProblemDetail']
          }
        }
      }
    }
    put?: never
    post?: never
    delete?: never
    options?: never
    head?: never
    patch?: never
    trace?: never
  }
  '/api/v1/datasets/{dataset}/removal': {
    parameters: {
      query?: never
      header?: never
      path?: never
      cookie?: never
    }
    /**
     * Removal
     * @description What taking rows out would change. Nothing is changed.
     */
    get: {
      parameters: {
        query?: {
          /** @description A file: its name, or as much of its path as tells it apart. */
          file?: string
          /** @description The name of a job. */
          job?: string
          /** @description The number of a run, or of another entry of the history. */
          run?: number
        }
        header?: never
        path: {
          /** @description The name of a dataset. */
          dataset: string
        }
        cookie?: never
      }
      requestBody?: never
      responses: {
        /** @description OK */
        200: {
          headers: {
            [name: string]: unknown
          }
          content: {
            'application/json': components['schemas']['Effect']
          }
        }
        /** @description A parameter or the JSON is not what the call takes */
        400: {
          headers: {
            [name: string]: unknown
          }
          content: {
            'application/problem+json': components['schemas']['ProblemDetail']
          }
        }
        /** @description There is nothing of that name or number */
        404: {
          headers: {
            [name: string]: unknown
          }
          content: {
            'application/problem+json': components['schemas']['ProblemDetail']
          }
        }
        /** @description Something stands in the way: a run, a change by somebody else, rows stored otherwise */
        409: {
          headers: {
            [name: string]: unknown
          }
          content: {
            'application/problem+json': components['schemas']['ProblemDetail']
          }
        }
        /** @description A definition file has mistakes */
        422: {
          headers: {
            [name: string]: unknown
          }
          content: {
            'application/problem+json': components['schemas']['ProblemDetail']
          }
        }
        /** @description An error that was not foreseen; the service's log has more */
        500: {
          headers: {
            [name: string]: unknown
          }
          content: {
            'application/problem+json': components['schemas']['ProblemDetail']
          }
        }
        /** @description The catalogue cannot be used, mostly for the disk */
        503: {
          headers: {
            [name: string]: unknown
          }
          content: {
            'application/problem+json': components['schemas']['ProblemDetail']
          }
        }
      }
    }
    put?: never
    post?: never
    delete?: never
    options?: never
    head?: never
    patch?: never
    trace?: never
  }
  '/api/v1/datasets/{dataset}/rename': {
    parameters: {
      query?: never
      header?: never
      path?: never
      cookie?: never
    }
    get?: never
    put?: never
    /**
     * Rename
     * @description Gives a dataset another name, with its jobs, its history and its rows.
     */
    post: {
      parameters: {
        query?: never
        header?: never
        path: {
          /** @description The name of a dataset. */
          dataset: string
        }
        cookie?: never
      }
      requestBody: {
        content: {
          'application/json': components['schemas']['NameRequest']
        }
      }
      responses: {
        /** @description OK */
        200: {
          headers: {
            [name: string]: unknown
          }
          content: {
            'application/json': components['schemas']['Renamed']
          }
        }
        /** @description A parameter or the JSON is not what the call takes */
        400: {
          headers: {
            [name: string]: unknown
          }
          content: {
            'application/problem+json': components['schemas']['ProblemDetail']
          }
        }
        /** @description There is nothing of that name or number */
        404: {
          headers: {
            [name: string]: unknown
          }
          content: {
            'application/problem+json': components['schemas']['ProblemDetail']
          }
        }
        /** @description Something stands in the way: a run, a change by somebody else, rows stored otherwise */
        409: {
          headers: {
            [name: string]: unknown
          }
          content: {
            'application/problem+json': components['schemas']['ProblemDetail']
          }
        }
        /** @description A definition file has mistakes */
        422: {
          headers: {
            [name: string]: unknown
          }
          content: {
            'application/problem+json': components['schemas']['ProblemDetail']
          }
        }
        /** @description An error that was not foreseen; the service's log has more */
        500: {
          headers: {
            [name: string]: unknown
          }
          content: {
            'application/problem+json': components['schemas']['ProblemDetail']
          }
        }
        /** @description The catalogue cannot be used, mostly for the disk */
        503: {
          headers: {
            [name: string]: unknown
          }
          content: {
            'application/problem+json': components['schemas']['ProblemDetail']
          }
        }
      }
    }
    delete?: never
    options?: never
    head?: never
    patch?: never
    trace?: never
  }
  '/api/v1/datasets/{dataset}/rows': {
    parameters: {
      query?: never
      header?: never
      path?: never
      cookie?: never
    }
    /**
     * Rows
     * @description Some rows, each with the file and line that it comes from.
     */
    get: {
      parameters: {
        query?: {
          /** @description Which columns, in this order, several times or separated by commas; all where none is named. In exports each also as lab as Laboratory. */
          columns?: string[]
          /** @description How many, at most 1000. */
          limit?: number
          /** @description How many to skip. */
          offset?: number
          /** @description Whether parts that are missing or damaged are left out; otherwise there is no answer then. */
          partial?: boolean
          /** @description Columns to sort by, several times or separated by commas; with - in front descending. */
          sort?: string[]
          /** @description Whether it is found out how many rows there are. If not, nothing is read behind the last row wanted, and the total is -1 where it is not known anyway. */
          total?: boolean
          /** @description Conditions such as value >= 5 and lab in (North, East), as docs/queries.md describes them; where it is given several times, all must hold. */
          where?: string[]
        }
        header?: never
        path: {
          /** @description The name of a dataset. */
          dataset: string
        }
        cookie?: never
      }
      requestBody?: never
      responses: {
        /** @description OK */
        200: {
          headers: {
            [name: string]: unknown
          }
          content: {
            'application/json': components['schemas']['RowsView']
          }
        }
        /** @description A parameter or the JSON is not what the call takes */
        400: {
          headers: {
            [name: string]: unknown
          }
          content: {
            'application/problem+json': components['schemas']['ProblemDetail']
          }
        }
        /** @description There is nothing of that name or number */
        404: {
          headers: {
            [name: string]: unknown
          }
          content: {
            'application/problem+json': components['schemas']['ProblemDetail']
          }
        }
        /** @description Something stands in the way: a run, a change by somebody else, rows stored otherwise */
        409: {
          headers: {
            [name: string]: unknown
          }
          content: {
            'application/problem+json': components['schemas']['ProblemDetail']
          }
        }
        /** @description A definition file has mistakes */
        422: {
          headers: {
            [name: string]: unknown
          }
          content: {
            'application/problem+json': components['schemas']['ProblemDetail']
          }
        }
        /** @description An error that was not foreseen; the service's log has more */
        500: {
          headers: {
            [name: string]: unknown
          }
          content: {
            'application/problem+json': components['schemas']['ProblemDetail']
          }
        }
        /** @description The catalogue cannot be used, mostly for the disk */
        503: {
          headers: {
            [name: string]: unknown
          }
          content: {
            'application/problem+json': components['schemas']['ProblemDetail']
          }
        }
      }
    }
    put?: never
    post?: never
    /**
     * Remove
     * @description Takes the rows of a job, a run or a file out; it can be undone.
     */
    delete: {
      parameters: {
        query?: {
          /** @description A file: its name, or as much of its path as tells it apart. */
          file?: string
          /** @description The name of a job. */
          job?: string
          /** @description The number of a run, or of another entry of the history. */
          run?: number
        }
        header?: never
        path: {
          /** @description The name of a dataset. */
          dataset: string
        }
        cookie?: never
      }
      requestBody?: never
      responses: {
        /** @description OK */
        200: {
          headers: {
            [name: string]: unknown
          }
          content: {
            'application/json': components['schemas']['RemovedView']
          }
        }
        /** @description A parameter or the JSON is not what the call takes */
        400: {
          headers: {
            [name: string]: unknown
          }
          content: {
            'application/problem+json': components['schemas']['ProblemDetail']
          }
        }
        /** @description There is nothing of that name or number */
        404: {
          headers: {
            [name: string]: unknown
          }
          content: {
            'application/problem+json': components['schemas']['ProblemDetail']
          }
        }
        /** @description Something stands in the way: a run, a change by somebody else, rows stored otherwise */
        409: {
          headers: {
            [name: string]: unknown
          }
          content: {
            'application/problem+json': components['schemas']['ProblemDetail']
          }
        }
        /** @description A definition file has mistakes */
        422: {
          headers: {
            [name: string]: unknown
          }
          content: {
            'application/problem+json': components['schemas']['ProblemDetail']
          }
        }
        /** @description An error that was not foreseen; the service's log has more */
        500: {
          headers: {
            [name: string]: unknown
          }
          content: {
            'application/problem+json': components['schemas']['ProblemDetail']
          }
        }
        /** @description The catalogue cannot be used, mostly for the disk */
        503: {
          headers: {
            [name: string]: unknown
          }
          content: {
            'application/problem+json': components['schemas']['ProblemDetail']
          }
        }
      }
    }
    options?: never
    head?: never
    patch?: never
    trace?: never
  }
  '/api/v1/datasets/{dataset}/split': {
    parameters: {
      query?: never
      header?: never
      path?: never
      cookie?: never
    }
    /**
     * Files
     * @description The files that there would be if rows were split by values.
     */
    get: {
      parameters: {
        query?: {
          /** @description The format of the file. */
          as?: string
          /** @description Which columns, in this order, several times or separated by commas; all where none is named. In exports each also as lab as Laboratory. */
          columns?: string[]
          /** @description A pattern (CLDR) for dates in text formats, such as dd.MM.yyyy; usually ISO 8601. */
          dates?: string
          /** @description The decimal mark of CSV: a point or a comma. */
          decimal?: string
          /** @description The element of a row in XML. */
          element?: string
          /** @description The encoding of CSV; usually UTF-8. */
          encoding?: string
          /** @description Whether CSV begins with the names of the columns. */
          header?: boolean
          /** @description Whether the columns that say where a row comes from are among them. */
          origins?: boolean
          /** @description Whether every field of CSV is quoted. */
          quote_all?: boolean
          /** @description The outermost element of XML. */
          root?: string
          /** @description Whether texts in CSV that a spreadsheet would take for a formula get an apostrophe in front. */
          safe?: boolean
          /** @description The character between the fields of CSV, or tab. */
          separator?: string
          /** @description Columns to sort by, several times or separated by commas; with - in front descending. */
          sort?: string[]
          /** @description A pattern (CLDR) for timestamps in text formats, such as dd.MM.yyyy HH:mm. */
          timestamps?: string
          /** @description The pattern of the paths of files, such as out/{lab}.csv. */
          to?: string
          /** @description Conditions such as value >= 5 and lab in (North, East), as docs/queries.md describes them; where it is given several times, all must hold. */
          where?: string[]
        }
        header?: never
        path: {
          /** @description The name of a dataset. */
          dataset: string
        }
        cookie?: never
      }
      requestBody?: never
      responses: {
        /** @description OK */
        200: {
          headers: {
            [name: string]: unknown
          }
          content: {
            'application/json': components['schemas']['SplitFile'][]
          }
        }
        /** @description A parameter or the JSON is not what the call takes */
        400: {
          headers: {
            [name: string]: unknown
          }
          content: {
            'application/problem+json': components['schemas']['ProblemDetail']
          }
        }
        /** @description There is nothing of that name or number */
        404: {
          headers: {
            [name: string]: unknown
          }
          content: {
            'application/problem+json': components['schemas']['ProblemDetail']
          }
        }
        /** @description Something stands in the way: a run, a change by somebody else, rows stored otherwise */
        409: {
          headers: {
            [name: string]: unknown
          }
          content: {
            'application/problem+json': components['schemas']['ProblemDetail']
          }
        }
        /** @description A definition file has mistakes */
        422: {
          headers: {
            [name: string]: unknown
          }
          content: {
            'application/problem+json': components['schemas']['ProblemDetail']
          }
        }
        /** @description An error that was not foreseen; the service's log has more */
        500: {
          headers: {
            [name: string]: unknown
          }
          content: {
            'application/problem+json': components['schemas']['ProblemDetail']
          }
        }
        /** @description The catalogue cannot be used, mostly for the disk */
        503: {
          headers: {
            [name: string]: unknown
          }
          content: {
            'application/problem+json': components['schemas']['ProblemDetail']
          }
        }
      }
    }
    put?: never
    post?: never
    delete?: never
    options?: never
    head?: never
    patch?: never
    trace?: never
  }
  '/api/v1/datasets/{dataset}/split/zip': {
    parameters: {
      query?: never
      header?: never
      path?: never
      cookie?: never
    }
    /**
     * Zip
     * @description Rows split by values, as a ZIP archive of files.
     */
    get: {
      parameters: {
        query?: {
          /** @description The format of the file. */
          as?: string
          /** @description Which columns, in this order, several times or separated by commas; all where none is named. In exports each also as lab as Laboratory. */
          columns?: string[]
          /** @description A pattern (CLDR) for dates in text formats, such as dd.MM.yyyy; usually ISO 8601. */
          dates?: string
          /** @description The decimal mark of CSV: a point or a comma. */
          decimal?: string
          /** @description The element of a row in XML. */
          element?: string
          /** @description The encoding of CSV; usually UTF-8. */
          encoding?: string
          /** @description Whether CSV begins with the names of the columns. */
          header?: boolean
          /** @description Whether the columns that say where a row comes from are among them. */
          origins?: boolean
          /** @description Whether every field of CSV is quoted. */
          quote_all?: boolean
          /** @description The outermost element of XML. */
          root?: string
          /** @description Whether texts in CSV that a spreadsheet would take for a formula get an apostrophe in front. */
          safe?: boolean
          /** @description The character between the fields of CSV, or tab. */
          separator?: string
          /** @description Columns to sort by, several times or separated by commas; with - in front descending. */
          sort?: string[]
          /** @description A pattern (CLDR) for timestamps in text formats, such as dd.MM.yyyy HH:mm. */
          timestamps?: string
          /** @description The pattern of the paths of files, such as out/{lab}.csv. */
          to?: string
          /** @description Conditions such as value >= 5 and lab in (North, East), as docs/queries.md describes them; where it is given several times, all must hold. */
          where?: string[]
        }
        header?: never
        path: {
          /** @description The name of a dataset. */
          dataset: string
        }
        cookie?: never
      }
      requestBody?: never
      responses: {
        /** @description OK */
        200: {
          headers: {
            [name: string]: unknown
          }
          content?: never
        }
        /** @description A parameter or the JSON is not what the call takes */
        400: {
          headers: {
            [name: string]: unknown
          }
          content: {
            'application/problem+json': components['schemas']['ProblemDetail']
          }
        }
        /** @description There is nothing of that name or number */
        404: {
          headers: {
            [name: string]: unknown
          }
          content: {
            'application/problem+json': components['schemas']['ProblemDetail']
          }
        }
        /** @description Something stands in the way: a run, a change by somebody else, rows stored otherwise */
        409: {
          headers: {
            [name: string]: unknown
          }
          content: {
            'application/problem+json': components['schemas']['ProblemDetail']
          }
        }
        /** @description A definition file has mistakes */
        422: {
          headers: {
            [name: string]: unknown
          }
          content: {
            'application/problem+json': components['schemas']['ProblemDetail']
          }
        }
        /** @description An error that was not foreseen; the service's log has more */
        500: {
          headers: {
            [name: string]: unknown
          }
          content: {
            'application/problem+json': components['schemas']['ProblemDetail']
          }
        }
        /** @description The catalogue cannot be used, mostly for the disk */
        503: {
          headers: {
            [name: string]: unknown
          }
          content: {
            'application/problem+json': components['schemas']['ProblemDetail']
          }
        }
      }
    }
    put?: never
    post?: never
    delete?: never
    options?: never
    head?: never
    patch?: never
    trace?: never
  }
  '/api/v1/drafts': {
    parameters: {
      query?: never
      header?: never
      path?: never
      cookie?: never
    }
    get?: never
    put?: never
    /**
     * Draft
     * @description A job and a dataset proposed from files, with the evidence. Nothing is written.
     */
    post: {
      parameters: {
        query?: never
        header?: never
        path?: never
        cookie?: never
      }
      requestBody: {
        content: {
          'application/json': components['schemas']['NewDraft']
        }
      }
      responses: {
        /** @description OK */
        200: {
          headers: {
            [name: string]: unknown
          }
          content: {
            'application/json': components['schemas']['Draft']
          }
        }
        /** @description A parameter or the JSON is not what the call takes */
        400: {
          headers: {
            [name: string]: unknown
          }
          content: {
            'application/problem+json': components['schemas']['ProblemDetail']
          }
        }
        /** @description Something stands in the way: a run, a change by somebody else, rows stored otherwise */
        409: {
          headers: {
            [name: string]: unknown
          }
          content: {
            'application/problem+json': components['schemas']['ProblemDetail']
          }
        }
        /** @description A definition file has mistakes */
        422: {
          headers: {
            [name: string]: unknown
          }
          content: {
            'application/problem+json': components['schemas']['ProblemDetail']
          }
        }
        /** @description An error that was not foreseen; the service's log has more */
        500: {
          headers: {
            [name: string]: unknown
          }
          content: {
            'application/problem+json': components['schemas']['ProblemDetail']
          }
        }
        /** @description The catalogue cannot be used, mostly for the disk */
        503: {
          headers: {
            [name: string]: unknown
          }
          content: {
            'application/problem+json': components['schemas']['ProblemDetail']
          }
        }
      }
    }
    delete?: never
    options?: never
    head?: never
    patch?: never
    trace?: never
  }
  '/api/v1/folders': {
    parameters: {
      query?: never
      header?: never
      path?: never
      cookie?: never
    }
    /**
     * Folders
     * @description Folders that a job may search, for a person who types a path.
     */
    get: {
      parameters: {
        query?: {
          /** @description The beginning of a path. */
          begin?: string
        }
        header?: never
        path?: never
        cookie?: never
      }
      requestBody?: never
      responses: {
        /** @description OK */
        200: {
          headers: {
            [name: string]: unknown
          }
          content: {
            'application/json': string[]
          }
        }
        /** @description A parameter or the JSON is not what the call takes */
        400: {
          headers: {
            [name: string]: unknown
          }
          content: {
            'application/problem+json': components['schemas']['ProblemDetail']
          }
        }
        /** @description An error that was not foreseen; the service's log has more */
        500: {
          headers: {
            [name: string]: unknown
          }
          content: {
            'application/problem+json': components['schemas']['ProblemDetail']
          }
        }
        /** @description The catalogue cannot be used, mostly for the disk */
        503: {
          headers: {
            [name: string]: unknown
          }
          content: {
            'application/problem+json': components['schemas']['ProblemDetail']
          }
        }
      }
    }
    put?: never
    post?: never
    delete?: never
    options?: never
    head?: never
    patch?: never
    trace?: never
  }
  '/api/v1/folders/content': {
    parameters: {
      query?: never
      header?: never
      path?: never
      cookie?: never
    }
    /**
     * Content
     * @description What lies in a folder: folders with their numbers of files, and files.
     */
    get: {
      parameters: {
        query?: {
          /** @description A folder, absolute or relative to the workspace. */
          folder?: string
        }
        header?: never
        path?: never
        cookie?: never
      }
      requestBody?: never
      responses: {
        /** @description OK */
        200: {
          headers: {
            [name: string]: unknown
          }
          content: {
            'application/json': components['schemas']['FolderContent']
          }
        }
        /** @description A parameter or the JSON is not what the call takes */
        400: {
          headers: {
            [name: string]: unknown
          }
          content: {
            'application/problem+json': components['schemas']['ProblemDetail']
          }
        }
        /** @description An error that was not foreseen; the service's log has more */
        500: {
          headers: {
            [name: string]: unknown
          }
          content: {
            'application/problem+json': components['schemas']['ProblemDetail']
          }
        }
        /** @description The catalogue cannot be used, mostly for the disk */
        503: {
          headers: {
            [name: string]: unknown
          }
          content: {
            'application/problem+json': components['schemas']['ProblemDetail']
          }
        }
      }
    }
    put?: never
    post?: never
    delete?: never
    options?: never
    head?: never
    patch?: never
    trace?: never
  }
  '/api/v1/jobs': {
    parameters: {
      query?: never
      header?: never
      path?: never
      cookie?: never
    }
    /**
     * Jobs
     * @description All jobs, with their last runs and the mistakes of their files.
     */
    get: {
      parameters: {
        query?: never
        header?: never
        path?: never
        cookie?: never
      }
      requestBody?: never
      responses: {
        /** @description OK */
        200: {
          headers: {
            [name: string]: unknown
          }
          content: {
            'application/json': components['schemas']['JobView'][]
          }
        }
        /** @description A parameter or the JSON is not what the call takes */
        400: {
          headers: {
            [name: string]: unknown
          }
          content: {
            'application/problem+json': components['schemas']['ProblemDetail']
          }
        }
        /** @description A definition file has mistakes */
        422: {
          headers: {
            [name: string]: unknown
          }
          content: {
            'application/problem+json': components['schemas']['ProblemDetail']
          }
        }
        /** @description An error that was not foreseen; the service's log has more */
        500: {
          headers: {
            [name: string]: unknown
          }
          content: {
            'application/problem+json': components['schemas']['ProblemDetail']
          }
        }
        /** @description The catalogue cannot be used, mostly for the disk */
        503: {
          headers: {
            [name: string]: unknown
          }
          content: {
            'application/problem+json': components['schemas']['ProblemDetail']
          }
        }
      }
    }
    put?: never
    post?: never
    delete?: never
    options?: never
    head?: never
    patch?: never
    trace?: never
  }
  '/api/v1/jobs/{job}': {
    parameters: {
      query?: never
      header?: never
      path?: never
      cookie?: never
    }
    /**
     * Job
     * @description A job: the text of its file, what it does in sentences, and its last run.
     */
    get: {
      parameters: {
        query?: {
          /** @description A value for a name in the job's file, as name=value; may be given several times. */
          set?: string[]
        }
        header?: never
        path: {
          /** @description The name of a job. */
          job: string
        }
        cookie?: never
      }
      requestBody?: never
      responses: {
        /** @description OK */
        200: {
          headers: {
            [name: string]: unknown
          }
          content: {
            'application/json': components['schemas']['JobDetail']
          }
        }
        /** @description A parameter or the JSON is not what the call takes */
        400: {
          headers: {
            [name: string]: unknown
          }
          content: {
            'application/problem+json': components['schemas']['ProblemDetail']
          }
        }
        /** @description There is nothing of that name or number */
        404: {
          headers: {
            [name: string]: unknown
          }
          content: {
            'application/problem+json': components['schemas']['ProblemDetail']
          }
        }
        /** @description A definition file has mistakes */
        422: {
          headers: {
            [name: string]: unknown
          }
          content: {
            'application/problem+json': components['schemas']['ProblemDetail']
          }
        }
        /** @description An error that was not foreseen; the service's log has more */
        500: {
          headers: {
            [name: string]: unknown
          }
          content: {
            'application/problem+json': components['schemas']['ProblemDetail']
          }
        }
        /** @description The catalogue cannot be used, mostly for the disk */
        503: {
          headers: {
            [name: string]: unknown
          }
          content: {
            'application/problem+json': components['schemas']['ProblemDetail']
          }
        }
      }
    }
    /**
     * Save
     * @description Writes a job's file; makes the job where there is none of that name.
     */
    put: {
      parameters: {
        query?: never
        header?: never
        path: {
          /** @description The name of a job. */
          job: string
        }
        cookie?: never
      }
      requestBody: {
        content: {
          'application/json': components['schemas']['SaveRequest']
        }
      }
      responses: {
        /** @description OK */
        200: {
          headers: {
            [name: string]: unknown
          }
          content: {
            'application/json': components['schemas']['JobDetail']
          }
        }
        /** @description Made */
        201: {
          headers: {
            [name: string]: unknown
          }
          content: {
            'application/json': components['schemas']['JobDetail']
          }
        }
        /** @description A parameter or the JSON is not what the call takes */
        400: {
          headers: {
            [name: string]: unknown
          }
          content: {
            'application/problem+json': components['schemas']['ProblemDetail']
          }
        }
        /** @description There is nothing of that name or number */
        404: {
          headers: {
            [name: string]: unknown
          }
          content: {
            'application/problem+json': components['schemas']['ProblemDetail']
          }
        }
        /** @description Something stands in the way: a run, a change by somebody else, rows stored otherwise */
        409: {
          headers: {
            [name: string]: unknown
          }
          content: {
            'application/problem+json': components['schemas']['ProblemDetail']
          }
        }
        /** @description A definition file has mistakes */
        422: {
          headers: {
            [name: string]: unknown
          }
          content: {
            'application/problem+json': components['schemas']['ProblemDetail']
          }
        }
        /** @description An error that was not foreseen; the service's log has more */
        500: {
          headers: {
            [name: string]: unknown
          }
          content: {
            'application/problem+json': components['schemas']['ProblemDetail']
          }
        }
        /** @description The catalogue cannot be used, mostly for the disk */
        503: {
          headers: {
            [name: string]: unknown
          }
          content: {
            'application/problem+json': components['schemas']['ProblemDetail']
          }
        }
      }
    }
    post?: never
    /**
     * Delete
     * @description Deletes a job's file. What it loaded stays in the dataset.
     */
    delete: {
      parameters: {
        query?: never
        header?: never
        path: {
          /** @description The name of a job. */
          job: string
        }
        cookie?: never
      }
      requestBody?: never
      responses: {
        /** @description No Content */
        204: {
          headers: {
            [name: string]: unknown
          }
          content?: never
        }
        /** @description A parameter or the JSON is not what the call takes */
        400: {
          headers: {
            [name: string]: unknown
          }
          content: {
            'application/problem+json': components['schemas']['ProblemDetail']
          }
        }
        /** @description There is nothing of that name or number */
        404: {
          headers: {
            [name: string]: unknown
          }
          content: {
            'application/problem+json': components['schemas']['ProblemDetail']
          }
        }
        /** @description Something stands in the way: a run, a change by somebody else, rows stored otherwise */
        409: {
          headers: {
            [name: string]: unknown
          }
          content: {
            'application/problem+json': components['schemas']['ProblemDetail']
          }
        }
        /** @description A definition file has mistakes */
        422: {
          headers: {
            [name: string]: unknown
          }
          content: {
            'application/problem+json': components['schemas']['ProblemDetail']
          }
        }
        /** @description An error that was not foreseen; the service's log has more */
        500: {
          headers: {
            [name: string]: unknown
          }
          content: {
            'application/problem+json': components['schemas']['ProblemDetail']
          }
        }
        /** @description The catalogue cannot be used, mostly for the disk */
        503: {
          headers: {
            [name: string]: unknown
          }
          content: {
            'application/problem+json': components['schemas']['ProblemDetail']
          }
        }
      }
    }
    options?: never
    head?: never
    patch?: never
    trace?: never
  }
  '/api/v1/jobs/{job}/arrivals': {
    parameters: {
      query?: never
      header?: never
      path?: never
      cookie?: never
    }
    /**
     * Arrivals
     * @description The contents of one file that the job ever read, the first one first.
     */
    get: {
      parameters: {
        query?: {
          /** @description The identity of a file within the job, as the ledger names it. */
          source?: string
        }
        header?: never
        path: {
          /** @description The name of a job. */
          job: string
        }
        cookie?: never
      }
      requestBody?: never
      responses: {
        /** @description OK */
        200: {
          headers: {
            [name: string]: unknown
          }
          content: {
            'application/json': components['schemas']['LedgerView'][]
          }
        }
        /** @description A parameter or the JSON is not what the call takes */
        400: {
          headers: {
            [name: string]: unknown
          }
          content: {
            'application/problem+json': components['schemas']['ProblemDetail']
          }
        }
        /** @description There is nothing of that name or number */
        404: {
          headers: {
            [name: string]: unknown
          }
          content: {
            'application/problem+json': components['schemas']['ProblemDetail']
          }
        }
        /** @description A definition file has mistakes */
        422: {
          headers: {
            [name: string]: unknown
          }
          content: {
            'application/problem+json': components['schemas']['ProblemDetail']
          }
        }
        /** @description An error that was not foreseen; the service's log has more */
        500: {
          headers: {
            [name: string]: unknown
          }
          content: {
            'application/problem+json': components['schemas']['ProblemDetail']
          }
        }
        /** @description The catalogue cannot be used, mostly for the disk */
        503: {
          headers: {
            [name: string]: unknown
          }
          content: {
            'application/problem+json': components['schemas']['ProblemDetail']
          }
        }
      }
    }
    put?: never
    post?: never
    delete?: never
    options?: never
    head?: never
    patch?: never
    trace?: never
  }
  '/api/v1/jobs/{job}/calendar': {
    parameters: {
      query?: never
      header?: never
      path?: never
      cookie?: never
    }
    /**
     * Calendar
     * @description What is due for a job, period by period, and whether it has arrived.
     */
    get: {
      parameters: {
        query?: {
          /** @description How many periods, up to the present one. */
          periods?: number
        }
        header?: never
        path: {
          /** @description The name of a job. */
          job: string
        }
        cookie?: never
      }
      requestBody?: never
      responses: {
        /** @description OK */
        200: {
          headers: {
            [name: string]: unknown
          }
          content: {
            'application/json': components['schemas']['CalendarView']
          }
        }
        /** @description A parameter or the JSON is not what the call takes */
        400: {
          headers: {
            [name: string]: unknown
          }
          content: {
            'application/problem+json': components['schemas']['ProblemDetail']
          }
        }
        /** @description There is nothing of that name or number */
        404: {
          headers: {
            [name: string]: unknown
          }
          content: {
            'application/problem+json': components['schemas']['ProblemDetail']
          }
        }
        /** @description A definition file has mistakes */
        422: {
          headers: {
            [name: string]: unknown
          }
          content: {
            'application/problem+json': components['schemas']['ProblemDetail']
          }
        }
        /** @description An error that was not foreseen; the service's log has more */
        500: {
          headers: {
            [name: string]: unknown
          }
          content: {
            'application/problem+json': components['schemas']['ProblemDetail']
          }
        }
        /** @description The catalogue cannot be used, mostly for the disk */
        503: {
          headers: {
            [name: string]: unknown
          }
          content: {
            'application/problem+json': components['schemas']['ProblemDetail']
          }
        }
      }
    }
    put?: never
    post?: never
    delete?: never
    options?: never
    head?: never
    patch?: never
    trace?: never
  }
  '/api/v1/jobs/{job}/calendar/proposal': {
    parameters: {
      query?: never
      header?: never
      path?: never
      cookie?: never
    }
    /**
     * Proposal
     * @description What a job's file may say of what is due, as it was up to now. Nothing is written.
     */
    get: {
      parameters: {
        query?: never
        header?: never
        path: {
          /** @description The name of a job. */
          job: string
        }
        cookie?: never
      }
      requestBody?: never
      responses: {
        /** @description OK */
        200: {
          headers: {
            [name: string]: unknown
          }
          content: {
            'application/json': components['schemas']['Proposed']
          }
        }
        /** @description A parameter or the JSON is not what the call takes */
        400: {
          headers: {
            [name: string]: unknown
          }
          content: {
            'application/problem+json': components['schemas']['ProblemDetail']
          }
        }
        /** @description There is nothing of that name or number */
        404: {
          headers: {
            [name: string]: unknown
          }
          content: {
            'application/problem+json': components['schemas']['ProblemDetail']
          }
        }
        /** @description A definition file has mistakes */
        422: {
          headers: {
            [name: string]: unknown
          }
          content: {
            'application/problem+json': components['schemas']['ProblemDetail']
          }
        }
        /** @description An error that was not foreseen; the service's log has more */
        500: {
          headers: {
            [name: string]: unknown
          }
          content: {
            'application/problem+json': components['schemas']['ProblemDetail']
          }
        }
        /** @description The catalogue cannot be used, mostly for the disk */
        503: {
          headers: {
            [name: string]: unknown
          }
          content: {
            'application/problem+json': components['schemas']['ProblemDetail']
          }
        }
      }
    }
    put?: never
    post?: never
    delete?: never
    options?: never
    head?: never
    patch?: never
    trace?: never
  }
  '/api/v1/jobs/{job}/check': {
    parameters: {
      query?: never
      header?: never
      path?: never
      cookie?: never
    }
    get?: never
    put?: never
    /**
     * Check
     * @description What would fail, found without a run: definitions, folders, header and first rows of each file.
     */
    post: {
      parameters: {
        query?: never
        header?: never
        path: {
          /** @description The name of a job. */
          job: string
        }
        cookie?: never
      }
      requestBody: {
        content: {
          'application/json': components['schemas']['RunRequest']
        }
      }
      responses: {
        /** @description OK */
        200: {
          headers: {
            [name: string]: unknown
          }
          content: {
            'application/json': components['schemas']['CheckView']
          }
        }
        /** @description A parameter or the JSON is not what the call takes */
        400: {
          headers: {
            [name: string]: unknown
          }
          content: {
            'application/problem+json': components['schemas']['ProblemDetail']
          }
        }
        /** @description There is nothing of that name or number */
        404: {
          headers: {
            [name: string]: unknown
          }
          content: {
            'application/problem+json': components['schemas']['ProblemDetail']
          }
        }
        /** @description Something stands in the way: a run, a change by somebody else, rows stored otherwise */
        409: {
          headers: {
            [name: string]: unknown
          }
          content: {
            'application/problem+json': components['schemas']['ProblemDetail']
          }
        }
        /** @description A definition file has mistakes */
        422: {
          headers: {
            [name: string]: unknown
          }
          content: {
            'application/problem+json': components['schemas']['ProblemDetail']
          }
        }
        /** @description An error that was not foreseen; the service's log has more */
        500: {
          headers: {
            [name: string]: unknown
          }
          content: {
            'application/problem+json': components['schemas']['ProblemDetail']
          }
        }
        /** @description The catalogue cannot be used, mostly for the disk */
        503: {
          headers: {
            [name: string]: unknown
          }
          content: {
            'application/problem+json': components['schemas']['ProblemDetail']
          }
        }
      }
    }
    delete?: never
    options?: never
    head?: never
    patch?: never
    trace?: never
  }
  '/api/v1/jobs/{job}/copy': {
    parameters: {
      query?: never
      header?: never
      path?: never
      cookie?: never
    }
    get?: never
    put?: never
    /**
     * Copy
     * @description Makes a job out of another one.
     */
    post: {
      parameters: {
        query?: never
        header?: never
        path: {
          /** @description The name of a job. */
          job: string
        }
        cookie?: never
      }
      requestBody: {
        content: {
          'application/json': components['schemas']['CopyRequest']
        }
      }
      responses: {
        /** @description Created */
        201: {
          headers: {
            [name: string]: unknown
          }
          content: {
            'application/json': components['schemas']['JobDetail']
          }
        }
        /** @description A parameter or the JSON is not what the call takes */
        400: {
          headers: {
            [name: string]: unknown
          }
          content: {
            'application/problem+json': components['schemas']['ProblemDetail']
          }
        }
        /** @description There is nothing of that name or number */
        404: {
          headers: {
            [name: string]: unknown
          }
          content: {
            'application/problem+json': components['schemas']['ProblemDetail']
          }
        }
        /** @description Something stands in the way: a run, a change by somebody else, rows stored otherwise */
        409: {
          headers: {
            [name: string]: unknown
          }
          content: {
            'application/problem+json': components['schemas']['ProblemDetail']
          }
        }
        /** @description A definition file has mistakes */
        422: {
          headers: {
            [name: string]: unknown
          }
          content: {
            'application/problem+json': components['schemas']['ProblemDetail']
          }
        }
        /** @description An error that was not foreseen; the service's log has more */
        500: {
          headers: {
            [name: string]: unknown
          }
          content: {
            'application/problem+json': components['schemas']['ProblemDetail']
          }
        }
        /** @description The catalogue cannot be used, mostly for the disk */
        503: {
          headers: {
            [name: string]: unknown
          }
          content: {
            'application/problem+json': components['schemas']['ProblemDetail']
          }
        }
      }
    }
    delete?: never
    options?: never
    head?: never
    patch?: never
    trace?: never
  }
  '/api/v1/jobs/{job}/dismissals': {
    parameters: {
      query?: never
      header?: never
      path?: never
      cookie?: never
    }
    get?: never
    put?: never
    /**
     * Dismiss
     * @description Says of a file's rejects that they need nobody's attention any more; it can be undone.
     */
    post: {
      parameters: {
        query?: never
        header?: never
        path: {
          /** @description The name of a job. */
          job: string
        }
        cookie?: never
      }
      requestBody: {
        content: {
          'application/json': components['schemas']['DismissRequest']
        }
      }
      responses: {
        /** @description OK */
        200: {
          headers: {
            [name: string]: unknown
          }
          content: {
            'application/json': components['schemas']['RunView']
          }
        }
        /** @description A parameter or the JSON is not what the call takes */
        400: {
          headers: {
            [name: string]: unknown
          }
          content: {
            'application/problem+json': components['schemas']['ProblemDetail']
          }
        }
        /** @description There is nothing of that name or number */
        404: {
          headers: {
            [name: string]: unknown
          }
          content: {
            'application/problem+json': components['schemas']['ProblemDetail']
          }
        }
        /** @description Something stands in the way: a run, a change by somebody else, rows stored otherwise */
        409: {
          headers: {
            [name: string]: unknown
          }
          content: {
            'application/problem+json': components['schemas']['ProblemDetail']
          }
        }
        /** @description A definition file has mistakes */
        422: {
          headers: {
            [name: string]: unknown
          }
          content: {
            'application/problem+json': components['schemas']['ProblemDetail']
          }
        }
        /** @description An error that was not foreseen; the service's log has more */
        500: {
          headers: {
            [name: string]: unknown
          }
          content: {
            'application/problem+json': components['schemas']['ProblemDetail']
          }
        }
        /** @description The catalogue cannot be used, mostly for the disk */
        503: {
          headers: {
            [name: string]: unknown
          }
          content: {
            'application/problem+json': components['schemas']['ProblemDetail']
          }
        }
      }
    }
    delete?: never
    options?: never
    head?: never
    patch?: never
    trace?: never
  }
  '/api/v1/jobs/{job}/drift': {
    parameters: {
      query?: never
      header?: never
      path?: never
      cookie?: never
    }
    /**
     * Drift
     * @description How the files that the job takes now differ from its definitions, with edits to choose from.
     */
    get: {
      parameters: {
        query?: never
        header?: never
        path: {
          /** @description The name of a job. */
          job: string
        }
        cookie?: never
      }
      requestBody?: never
      responses: {
        /** @description OK */
        200: {
          headers: {
            [name: string]: unknown
          }
          content: {
            'application/json': components['schemas']['Drift']
          }
        }
        /** @description A parameter or the JSON is not what the call takes */
        400: {
          headers: {
            [name: string]: unknown
          }
          content: {
            'application/problem+json': components['schemas']['ProblemDetail']
          }
        }
        /** @description There is nothing of that name or number */
        404: {
          headers: {
            [name: string]: unknown
          }
          content: {
            'application/problem+json': components['schemas']['ProblemDetail']
          }
        }
        /** @description A definition file has mistakes */
        422: {
          headers: {
            [name: string]: unknown
          }
          content: {
            'application/problem+json': components['schemas']['ProblemDetail']
          }
        }
        /** @description An error that was not foreseen; the service's log has more */
        500: {
          headers: {
            [name: string]: unknown
          }
          content: {
            'application/problem+json': components['schemas']['ProblemDetail']
          }
        }
        /** @description The catalogue cannot be used, mostly for the disk */
        503: {
          headers: {
            [name: string]: unknown
          }
          content: {
            'application/problem+json': components['schemas']['ProblemDetail']
          }
        }
      }
    }
    put?: never
    post?: never
    delete?: never
    options?: never
    head?: never
    patch?: never
    trace?: never
  }
  '/api/v1/jobs/{job}/edit': {
    parameters: {
      query?: never
      header?: never
      path?: never
      cookie?: never
    }
    get?: never
    put?: never
    /**
     * Job
     * @description Makes changes in the text of a job without saving it, and says what is wrong with it.
     */
    post: {
      parameters: {
        query?: never
        header?: never
        path: {
          /** @description The name of a job. */
          job: string
        }
        cookie?: never
      }
      requestBody: {
        content: {
          'application/json': components['schemas']['EditRequest']
        }
      }
      responses: {
        /** @description OK */
        200: {
          headers: {
            [name: string]: unknown
          }
          content: {
            'application/json': components['schemas']['EditView']
          }
        }
        /** @description A parameter or the JSON is not what the call takes */
        400: {
          headers: {
            [name: string]: unknown
          }
          content: {
            'application/problem+json': components['schemas']['ProblemDetail']
          }
        }
        /** @description There is nothing of that name or number */
        404: {
          headers: {
            [name: string]: unknown
          }
          content: {
            'application/problem+json': components['schemas']['ProblemDetail']
          }
        }
        /** @description Something stands in the way: a run, a change by somebody else, rows stored otherwise */
        409: {
          headers: {
            [name: string]: unknown
          }
          content: {
            'application/problem+json': components['schemas']['ProblemDetail']
          }
        }
        /** @description A definition file has mistakes */
        422: {
          headers: {
            [name: string]: unknown
          }
          content: {
            'application/problem+json': components['schemas']['ProblemDetail']
          }
        }
        /** @description An error that was not foreseen; the service's log has more */
        500: {
          headers: {
            [name: string]: unknown
          }
          content: {
            'application/problem+json': components['schemas']['ProblemDetail']
          }
        }
        /** @description The catalogue cannot be used, mostly for the disk */
        503: {
          headers: {
            [name: string]: unknown
          }
          content: {
            'application/problem+json': components['schemas']['ProblemDetail']
          }
        }
      }
    }
    delete?: never
    options?: never
    head?: never
    patch?: never
    trace?: never
  }
  '/api/v1/jobs/{job}/find': {
    parameters: {
      query?: never
      header?: never
      path?: never
      cookie?: never
    }
    get?: never
    put?: never
    /**
     * Find
     * @description Which files the job takes now, which it skips, and by which rule.
     */
    post: {
      parameters: {
        query?: never
        header?: never
        path: {
          /** @description The name of a job. */
          job: string
        }
        cookie?: never
      }
      requestBody: {
        content: {
          'application/json': components['schemas']['FindRequest']
        }
      }
      responses: {
        /** @description OK */
        200: {
          headers: {
            [name: string]: unknown
          }
          content: {
            'application/json': components['schemas']['FindView']
          }
        }
        /** @description A parameter or the JSON is not what the call takes */
        400: {
          headers: {
            [name: string]: unknown
          }
          content: {
            'application/problem+json': components['schemas']['ProblemDetail']
          }
        }
        /** @description There is nothing of that name or number */
        404: {
          headers: {
            [name: string]: unknown
          }
          content: {
            'application/problem+json': components['schemas']['ProblemDetail']
          }
        }
        /** @description Something stands in the way: a run, a change by somebody else, rows stored otherwise */
        409: {
          headers: {
            [name: string]: unknown
          }
          content: {
            'application/problem+json': components['schemas']['ProblemDetail']
          }
        }
        /** @description A definition file has mistakes */
        422: {
          headers: {
            [name: string]: unknown
          }
          content: {
            'application/problem+json': components['schemas']['ProblemDetail']
          }
        }
        /** @description An error that was not foreseen; the service's log has more */
        500: {
          headers: {
            [name: string]: unknown
          }
          content: {
            'application/problem+json': components['schemas']['ProblemDetail']
          }
        }
        /** @description The catalogue cannot be used, mostly for the disk */
        503: {
          headers: {
            [name: string]: unknown
          }
          content: {
            'application/problem+json': components['schemas']['ProblemDetail']
          }
        }
      }
    }
    delete?: never
    options?: never
    head?: never
    patch?: never
    trace?: never
  }
  '/api/v1/jobs/{job}/fit': {
    parameters: {
      query?: never
      header?: never
      path?: never
      cookie?: never
    }
    /**
     * Fit
     * @description Whether the job's files have one structure: files of equal structure together.
     */
    get: {
      parameters: {
        query?: {
          /** @description A value for a name in the job's file, as name=value; may be given several times. */
          set?: string[]
        }
        header?: never
        path: {
          /** @description The name of a job. */
          job: string
        }
        cookie?: never
      }
      requestBody?: never
      responses: {
        /** @description OK */
        200: {
          headers: {
            [name: string]: unknown
          }
          content: {
            'application/json': components['schemas']['FitView']
          }
        }
        /** @description A parameter or the JSON is not what the call takes */
        400: {
          headers: {
            [name: string]: unknown
          }
          content: {
            'application/problem+json': components['schemas']['ProblemDetail']
          }
        }
        /** @description There is nothing of that name or number */
        404: {
          headers: {
            [name: string]: unknown
          }
          content: {
            'application/problem+json': components['schemas']['ProblemDetail']
          }
        }
        /** @description A definition file has mistakes */
        422: {
          headers: {
            [name: string]: unknown
          }
          content: {
            'application/problem+json': components['schemas']['ProblemDetail']
          }
        }
        /** @description An error that was not foreseen; the service's log has more */
        500: {
          headers: {
            [name: string]: unknown
          }
          content: {
            'application/problem+json': components['schemas']['ProblemDetail']
          }
        }
        /** @description The catalogue cannot be used, mostly for the disk */
        503: {
          headers: {
            [name: string]: unknown
          }
          content: {
            'application/problem+json': components['schemas']['ProblemDetail']
          }
        }
      }
    }
    put?: never
    post?: never
    delete?: never
    options?: never
    head?: never
    patch?: never
    trace?: never
  }
  '/api/v1/jobs/{job}/ledger': {
    parameters: {
      query?: never
      header?: never
      path?: never
      cookie?: never
    }
    /**
     * Ledger
     * @description Every content of every file that the job ever read, and how it stands.
     */
    get: {
      parameters: {
        query?: never
        header?: never
        path: {
          /** @description The name of a job. */
          job: string
        }
        cookie?: never
      }
      requestBody?: never
      responses: {
        /** @description OK */
        200: {
          headers: {
            [name: string]: unknown
          }
          content: {
            'application/json': components['schemas']['LedgerView'][]
          }
        }
        /** @description A parameter or the JSON is not what the call takes */
        400: {
          headers: {
            [name: string]: unknown
          }
          content: {
            'application/problem+json': components['schemas']['ProblemDetail']
          }
        }
        /** @description There is nothing of that name or number */
        404: {
          headers: {
            [name: string]: unknown
          }
          content: {
            'application/problem+json': components['schemas']['ProblemDetail']
          }
        }
        /** @description A definition file has mistakes */
        422: {
          headers: {
            [name: string]: unknown
          }
          content: {
            'application/problem+json': components['schemas']['ProblemDetail']
          }
        }
        /** @description An error that was not foreseen; the service's log has more */
        500: {
          headers: {
            [name: string]: unknown
          }
          content: {
            'application/problem+json': components['schemas']['ProblemDetail']
          }
        }
        /** @description The catalogue cannot be used, mostly for the disk */
        503: {
          headers: {
            [name: string]: unknown
          }
          content: {
            'application/problem+json': components['schemas']['ProblemDetail']
          }
        }
      }
    }
    put?: never
    post?: never
    delete?: never
    options?: never
    head?: never
    patch?: never
    trace?: never
  }
  '/api/v1/jobs/{job}/peek': {
    parameters: {
      query?: never
      header?: never
      path?: never
      cookie?: never
    }
    /**
     * Peek
     * @description The first lines or rows of one file, as they are.
     */
    get: {
      parameters: {
        query?: {
          /** @description How many lines. */
          count?: number
          /** @description A file: its name, or as much of its path as tells it apart. */
          file?: string
          /** @description The first line, counted from 1; negative to count from the end. */
          from?: number
        }
        header?: never
        path: {
          /** @description The name of a job. */
          job: string
        }
        cookie?: never
      }
      requestBody?: never
      responses: {
        /** @description OK */
        200: {
          headers: {
            [name: string]: unknown
          }
          content: {
            'application/json': components['schemas']['PeekView']
          }
        }
        /** @description A parameter or the JSON is not what the call takes */
        400: {
          headers: {
            [name: string]: unknown
          }
          content: {
            'application/problem+json': components['schemas']['ProblemDetail']
          }
        }
        /** @description There is nothing of that name or number */
        404: {
          headers: {
            [name: string]: unknown
          }
          content: {
            'application/problem+json': components['schemas']['ProblemDetail']
          }
        }
        /** @description A definition file has mistakes */
        422: {
          headers: {
            [name: string]: unknown
          }
          content: {
            'application/problem+json': components['schemas']['ProblemDetail']
          }
        }
        /** @description An error that was not foreseen; the service's log has more */
        500: {
          headers: {
            [name: string]: unknown
          }
          content: {
            'application/problem+json': components['schemas']['ProblemDetail']
          }
        }
        /** @description The catalogue cannot be used, mostly for the disk */
        503: {
          headers: {
            [name: string]: unknown
          }
          content: {
            'application/problem+json': components['schemas']['ProblemDetail']
          }
        }
      }
    }
    put?: never
    post?: never
    delete?: never
    options?: never
    head?: never
    patch?: never
    trace?: never
  }
  '/api/v1/jobs/{job}/profile': {
    parameters: {
      query?: never
      header?: never
      path?: never
      cookie?: never
    }
    /**
     * Profile
     * @description What the columns of a job's files hold before they are loaded, and what would be rejected.
     */
    get: {
      parameters: {
        query?: {
          /** @description Names of files or patterns, several times; all where none is named. */
          files?: string[]
          /** @description A value for a name in the job's file, as name=value; may be given several times. */
          set?: string[]
        }
        header?: never
        path: {
          /** @description The name of a job. */
          job: string
        }
        cookie?: never
      }
      requestBody?: never
      responses: {
        /** @description OK */
        200: {
          headers: {
            [name: string]: unknown
          }
          content: {
            'application/json': components['schemas']['FilesProfileView']
          }
        }
        /** @description A parameter or the JSON is not what the call takes */
        400: {
          headers: {
            [name: string]: unknown
          }
          content: {
            'application/problem+json': components['schemas']['ProblemDetail']
          }
        }
        /** @description There is nothing of that name or number */
        404: {
          headers: {
            [name: string]: unknown
          }
          content: {
            'application/problem+json': components['schemas']['ProblemDetail']
          }
        }
        /** @description A definition file has mistakes */
        422: {
          headers: {
            [name: string]: unknown
          }
          content: {
            'application/problem+json': components['schemas']['ProblemDetail']
          }
        }
        /** @description An error that was not foreseen; the service's log has more */
        500: {
          headers: {
            [name: string]: unknown
          }
          content: {
            'application/problem+json': components['schemas']['ProblemDetail']
          }
        }
        /** @description The catalogue cannot be used, mostly for the disk */
        503: {
          headers: {
            [name: string]: unknown
          }
          content: {
            'application/problem+json': components['schemas']['ProblemDetail']
          }
        }
      }
    }
    put?: never
    post?: never
    delete?: never
    options?: never
    head?: never
    patch?: never
    trace?: never
  }
  '/api/v1/jobs/{job}/rename': {
    parameters: {
      query?: never
      header?: never
      path?: never
      cookie?: never
    }
    get?: never
    put?: never
    /**
     * Rename
     * @description Gives a job another name, with its history and its rows.
     */
    post: {
      parameters: {
        query?: never
        header?: never
        path: {
          /** @description The name of a job. */
          job: string
        }
        cookie?: never
      }
      requestBody: {
        content: {
          'application/json': components['schemas']['NameRequest']
        }
      }
      responses: {
        /** @description OK */
        200: {
          headers: {
            [name: string]: unknown
          }
          content: {
            'application/json': components['schemas']['Renamed']
          }
        }
        /** @description A parameter or the JSON is not what the call takes */
        400: {
          headers: {
            [name: string]: unknown
          }
          content: {
            'application/problem+json': components['schemas']['ProblemDetail']
          }
        }
        /** @description There is nothing of that name or number */
        404: {
          headers: {
            [name: string]: unknown
          }
          content: {
            'application/problem+json': components['schemas']['ProblemDetail']
          }
        }
        /** @description Something stands in the way: a run, a change by somebody else, rows stored otherwise */
        409: {
          headers: {
            [name: string]: unknown
          }
          content: {
            'application/problem+json': components['schemas']['ProblemDetail']
          }
        }
        /** @description A definition file has mistakes */
        422: {
          headers: {
            [name: string]: unknown
          }
          content: {
            'application/problem+json': components['schemas']['ProblemDetail']
          }
        }
        /** @description An error that was not foreseen; the service's log has more */
        500: {
          headers: {
            [name: string]: unknown
          }
          content: {
            'application/problem+json': components['schemas']['ProblemDetail']
          }
        }
        /** @description The catalogue cannot be used, mostly for the disk */
        503: {
          headers: {
            [name: string]: unknown
          }
          content: {
            'application/problem+json': components['schemas']['ProblemDetail']
          }
        }
      }
    }
    delete?: never
    options?: never
    head?: never
    patch?: never
    trace?: never
  }
  '/api/v1/jobs/{job}/rows': {
    parameters: {
      query?: never
      header?: never
      path?: never
      cookie?: never
    }
    get?: never
    put?: never
    /**
     * Rows
     * @description Rows of a file, or of all files, as they are read, cleaned or would be stored; filtered, sorted, page by page.
     */
    post: {
      parameters: {
        query?: never
        header?: never
        path: {
          /** @description The name of a job. */
          job: string
        }
        cookie?: never
      }
      requestBody: {
        content: {
          'application/json': components['schemas']['RowsQuestion']
        }
      }
      responses: {
        /** @description OK */
        200: {
          headers: {
            [name: string]: unknown
          }
          content: {
            'application/json': components['schemas']['StageRowsView']
          }
        }
        /** @description A parameter or the JSON is not what the call takes */
        400: {
          headers: {
            [name: string]: unknown
          }
          content: {
            'application/problem+json': components['schemas']['ProblemDetail']
          }
        }
        /** @description There is nothing of that name or number */
        404: {
          headers: {
            [name: string]: unknown
          }
          content: {
            'application/problem+json': components['schemas']['ProblemDetail']
          }
        }
        /** @description Something stands in the way: a run, a change by somebody else, rows stored otherwise */
        409: {
          headers: {
            [name: string]: unknown
          }
          content: {
            'application/problem+json': components['schemas']['ProblemDetail']
          }
        }
        /** @description A definition file has mistakes */
        422: {
          headers: {
            [name: string]: unknown
          }
          content: {
            'application/problem+json': components['schemas']['ProblemDetail']
          }
        }
        /** @description An error that was not foreseen; the service's log has more */
        500: {
          headers: {
            [name: string]: unknown
          }
          content: {
            'application/problem+json': components['schemas']['ProblemDetail']
          }
        }
        /** @description The catalogue cannot be used, mostly for the disk */
        503: {
          headers: {
            [name: string]: unknown
          }
          content: {
            'application/problem+json': components['schemas']['ProblemDetail']
          }
        }
      }
    }
    delete?: never
    options?: never
    head?: never
    patch?: never
    trace?: never
  }
  '/api/v1/jobs/{job}/rows/trace': {
    parameters: {
      query?: never
      header?: never
      path?: never
      cookie?: never
    }
    get?: never
    put?: never
    /**
     * Trace
     * @description One row of a file through all steps, whatever becomes of it.
     */
    post: {
      parameters: {
        query?: never
        header?: never
        path: {
          /** @description The name of a job. */
          job: string
        }
        cookie?: never
      }
      requestBody: {
        content: {
          'application/json': components['schemas']['RowsQuestion']
        }
      }
      responses: {
        /** @description OK */
        200: {
          headers: {
            [name: string]: unknown
          }
          content: {
            'application/json': components['schemas']['Trace']
          }
        }
        /** @description A parameter or the JSON is not what the call takes */
        400: {
          headers: {
            [name: string]: unknown
          }
          content: {
            'application/problem+json': components['schemas']['ProblemDetail']
          }
        }
        /** @description There is nothing of that name or number */
        404: {
          headers: {
            [name: string]: unknown
          }
          content: {
            'application/problem+json': components['schemas']['ProblemDetail']
          }
        }
        /** @description Something stands in the way: a run, a change by somebody else, rows stored otherwise */
        409: {
          headers: {
            [name: string]: unknown
          }
          content: {
            'application/problem+json': components['schemas']['ProblemDetail']
          }
        }
        /** @description A definition file has mistakes */
        422: {
          headers: {
            [name: string]: unknown
          }
          content: {
            'application/problem+json': components['schemas']['ProblemDetail']
          }
        }
        /** @description An error that was not foreseen; the service's log has more */
        500: {
          headers: {
            [name: string]: unknown
          }
          content: {
            'application/problem+json': components['schemas']['ProblemDetail']
          }
        }
        /** @description The catalogue cannot be used, mostly for the disk */
        503: {
          headers: {
            [name: string]: unknown
          }
          content: {
            'application/problem+json': components['schemas']['ProblemDetail']
          }
        }
      }
    }
    delete?: never
    options?: never
    head?: never
    patch?: never
    trace?: never
  }
  '/api/v1/jobs/{job}/runs': {
    parameters: {
      query?: never
      header?: never
      path?: never
      cookie?: never
    }
    get?: never
    put?: never
    /**
     * Run
     * @description Starts a run. Its address is in the header Location.
     */
    post: {
      parameters: {
        query?: never
        header?: never
        path: {
          /** @description The name of a job. */
          job: string
        }
        cookie?: never
      }
      requestBody: {
        content: {
          'application/json': components['schemas']['RunRequest']
        }
      }
      responses: {
        /** @description Accepted */
        202: {
          headers: {
            [name: string]: unknown
          }
          content: {
            'application/json': components['schemas']['RunView']
          }
        }
        /** @description A parameter or the JSON is not what the call takes */
        400: {
          headers: {
            [name: string]: unknown
          }
          content: {
            'application/problem+json': components['schemas']['ProblemDetail']
          }
        }
        /** @description There is nothing of that name or number */
        404: {
          headers: {
            [name: string]: unknown
          }
          content: {
            'application/problem+json': components['schemas']['ProblemDetail']
          }
        }
        /** @description Something stands in the way: a run, a change by somebody else, rows stored otherwise */
        409: {
          headers: {
            [name: string]: unknown
          }
          content: {
            'application/problem+json': components['schemas']['ProblemDetail']
          }
        }
        /** @description A definition file has mistakes */
        422: {
          headers: {
            [name: string]: unknown
          }
          content: {
            'application/problem+json': components['schemas']['ProblemDetail']
          }
        }
        /** @description An error that was not foreseen; the service's log has more */
        500: {
          headers: {
            [name: string]: unknown
          }
          content: {
            'application/problem+json': components['schemas']['ProblemDetail']
          }
        }
        /** @description The catalogue cannot be used, mostly for the disk */
        503: {
          headers: {
            [name: string]: unknown
          }
          content: {
            'application/problem+json': components['schemas']['ProblemDetail']
          }
        }
      }
    }
    delete?: never
    options?: never
    head?: never
    patch?: never
    trace?: never
  }
  '/api/v1/jobs/{job}/schedule': {
    parameters: {
      query?: never
      header?: never
      path?: never
      cookie?: never
    }
    /**
     * Schedule
     * @description When a job runs by itself: its next times, and whether it is paused.
     */
    get: {
      parameters: {
        query?: {
          /** @description How many of the next times. */
          times?: number
        }
        header?: never
        path: {
          /** @description The name of a job. */
          job: string
        }
        cookie?: never
      }
      requestBody?: never
      responses: {
        /** @description OK */
        200: {
          headers: {
            [name: string]: unknown
          }
          content: {
            'application/json': components['schemas']['ScheduleView']
          }
        }
        /** @description A parameter or the JSON is not what the call takes */
        400: {
          headers: {
            [name: string]: unknown
          }
          content: {
            'application/problem+json': components['schemas']['ProblemDetail']
          }
        }
        /** @description There is nothing of that name or number */
        404: {
          headers: {
            [name: string]: unknown
          }
          content: {
            'application/problem+json': components['schemas']['ProblemDetail']
          }
        }
        /** @description A definition file has mistakes */
        422: {
          headers: {
            [name: string]: unknown
          }
          content: {
            'application/problem+json': components['schemas']['ProblemDetail']
          }
        }
        /** @description An error that was not foreseen; the service's log has more */
        500: {
          headers: {
            [name: string]: unknown
          }
          content: {
            'application/problem+json': components['schemas']['ProblemDetail']
          }
        }
        /** @description The catalogue cannot be used, mostly for the disk */
        503: {
          headers: {
            [name: string]: unknown
          }
          content: {
            'application/problem+json': components['schemas']['ProblemDetail']
          }
        }
      }
    }
    put?: never
    post?: never
    delete?: never
    options?: never
    head?: never
    patch?: never
    trace?: never
  }
  '/api/v1/jobs/{job}/schedule/pause': {
    parameters: {
      query?: never
      header?: never
      path?: never
      cookie?: never
    }
    get?: never
    put?: never
    /**
     * Pause
     * @description Pauses a job: it does not run by itself any more.
     */
    post: {
      parameters: {
        query?: never
        header?: never
        path: {
          /** @description The name of a job. */
          job: string
        }
        cookie?: never
      }
      requestBody: {
        content: {
          'application/json': components['schemas']['PauseRequest']
        }
      }
      responses: {
        /** @description OK */
        200: {
          headers: {
            [name: string]: unknown
          }
          content: {
            'application/json': components['schemas']['ScheduleView']
          }
        }
        /** @description A parameter or the JSON is not what the call takes */
        400: {
          headers: {
            [name: string]: unknown
          }
          content: {
            'application/problem+json': components['schemas']['ProblemDetail']
          }
        }
        /** @description There is nothing of that name or number */
        404: {
          headers: {
            [name: string]: unknown
          }
          content: {
            'application/problem+json': components['schemas']['ProblemDetail']
          }
        }
        /** @description Something stands in the way: a run, a change by somebody else, rows stored otherwise */
        409: {
          headers: {
            [name: string]: unknown
          }
          content: {
            'application/problem+json': components['schemas']['ProblemDetail']
          }
        }
        /** @description A definition file has mistakes */
        422: {
          headers: {
            [name: string]: unknown
          }
          content: {
            'application/problem+json': components['schemas']['ProblemDetail']
          }
        }
        /** @description An error that was not foreseen; the service's log has more */
        500: {
          headers: {
            [name: string]: unknown
          }
          content: {
            'application/problem+json': components['schemas']['ProblemDetail']
          }
        }
        /** @description The catalogue cannot be used, mostly for the disk */
        503: {
          headers: {
            [name: string]: unknown
          }
          content: {
            'application/problem+json': components['schemas']['ProblemDetail']
          }
        }
      }
    }
    delete?: never
    options?: never
    head?: never
    patch?: never
    trace?: never
  }
  '/api/v1/jobs/{job}/schedule/resume': {
    parameters: {
      query?: never
      header?: never
      path?: never
      cookie?: never
    }
    get?: never
    put?: never
    /**
     * Resume
     * @description Ends the pause of a job.
     */
    post: {
      parameters: {
        query?: never
        header?: never
        path: {
          /** @description The name of a job. */
          job: string
        }
        cookie?: never
      }
      requestBody?: never
      responses: {
        /** @description OK */
        200: {
          headers: {
            [name: string]: unknown
          }
          content: {
            'application/json': components['schemas']['ScheduleView']
          }
        }
        /** @description A parameter or the JSON is not what the call takes */
        400: {
          headers: {
            [name: string]: unknown
          }
          content: {
            'application/problem+json': components['schemas']['ProblemDetail']
          }
        }
        /** @description There is nothing of that name or number */
        404: {
          headers: {
            [name: string]: unknown
          }
          content: {
            'application/problem+json': components['schemas']['ProblemDetail']
          }
        }
        /** @description Something stands in the way: a run, a change by somebody else, rows stored otherwise */
        409: {
          headers: {
            [name: string]: unknown
          }
          content: {
            'application/problem+json': components['schemas']['ProblemDetail']
          }
        }
        /** @description A definition file has mistakes */
        422: {
          headers: {
            [name: string]: unknown
          }
          content: {
            'application/problem+json': components['schemas']['ProblemDetail']
          }
        }
        /** @description An error that was not foreseen; the service's log has more */
        500: {
          headers: {
            [name: string]: unknown
          }
          content: {
            'application/problem+json': components['schemas']['ProblemDetail']
          }
        }
        /** @description The catalogue cannot be used, mostly for the disk */
        503: {
          headers: {
            [name: string]: unknown
          }
          content: {
            'application/problem+json': components['schemas']['ProblemDetail']
          }
        }
      }
    }
    delete?: never
    options?: never
    head?: never
    patch?: never
    trace?: never
  }
  '/api/v1/jobs/{job}/schedule/times': {
    parameters: {
      query?: never
      header?: never
      path?: never
      cookie?: never
    }
    get?: never
    put?: never
    /**
     * Times
     * @description The next times of a job's text that is not saved.
     */
    post: {
      parameters: {
        query?: never
        header?: never
        path: {
          /** @description The name of a job. */
          job: string
        }
        cookie?: never
      }
      requestBody: {
        content: {
          'application/json': components['schemas']['TimesRequest']
        }
      }
      responses: {
        /** @description OK */
        200: {
          headers: {
            [name: string]: unknown
          }
          content: {
            'application/json': components['schemas']['ScheduleView']
          }
        }
        /** @description A parameter or the JSON is not what the call takes */
        400: {
          headers: {
            [name: string]: unknown
          }
          content: {
            'application/problem+json': components['schemas']['ProblemDetail']
          }
        }
        /** @description There is nothing of that name or number */
        404: {
          headers: {
            [name: string]: unknown
          }
          content: {
            'application/problem+json': components['schemas']['ProblemDetail']
          }
        }
        /** @description Something stands in the way: a run, a change by somebody else, rows stored otherwise */
        409: {
          headers: {
            [name: string]: unknown
          }
          content: {
            'application/problem+json': components['schemas']['ProblemDetail']
          }
        }
        /** @description A definition file has mistakes */
        422: {
          headers: {
            [name: string]: unknown
          }
          content: {
            'application/problem+json': components['schemas']['ProblemDetail']
          }
        }
        /** @description An error that was not foreseen; the service's log has more */
        500: {
          headers: {
            [name: string]: unknown
          }
          content: {
            'application/problem+json': components['schemas']['ProblemDetail']
          }
        }
        /** @description The catalogue cannot be used, mostly for the disk */
        503: {
          headers: {
            [name: string]: unknown
          }
          content: {
            'application/problem+json': components['schemas']['ProblemDetail']
          }
        }
      }
    }
    delete?: never
    options?: never
    head?: never
    patch?: never
    trace?: never
  }
  '/api/v1/jobs/{job}/trend': {
    parameters: {
      query?: never
      header?: never
      path?: never
      cookie?: never
    }
    /**
     * Trend
     * @description Rows, rejects and duration of the latest runs of a job that did something.
     */
    get: {
      parameters: {
        query?: {
          /** @description How many, at most 1000. */
          limit?: number
        }
        header?: never
        path: {
          /** @description The name of a job. */
          job: string
        }
        cookie?: never
      }
      requestBody?: never
      responses: {
        /** @description OK */
        200: {
          headers: {
            [name: string]: unknown
          }
          content: {
            'application/json': components['schemas']['Trend']
          }
        }
        /** @description A parameter or the JSON is not what the call takes */
        400: {
          headers: {
            [name: string]: unknown
          }
          content: {
            'application/problem+json': components['schemas']['ProblemDetail']
          }
        }
        /** @description There is nothing of that name or number */
        404: {
          headers: {
            [name: string]: unknown
          }
          content: {
            'application/problem+json': components['schemas']['ProblemDetail']
          }
        }
        /** @description A definition file has mistakes */
        422: {
          headers: {
            [name: string]: unknown
          }
          content: {
            'application/problem+json': components['schemas']['ProblemDetail']
          }
        }
        /** @description An error that was not foreseen; the service's log has more */
        500: {
          headers: {
            [name: string]: unknown
          }
          content: {
            'application/problem+json': components['schemas']['ProblemDetail']
          }
        }
        /** @description The catalogue cannot be used, mostly for the disk */
        503: {
          headers: {
            [name: string]: unknown
          }
          content: {
            'application/problem+json': components['schemas']['ProblemDetail']
          }
        }
      }
    }
    put?: never
    post?: never
    delete?: never
    options?: never
    head?: never
    patch?: never
    trace?: never
  }
  '/api/v1/jobs/{job}/trial': {
    parameters: {
      query?: never
      header?: never
      path?: never
      cookie?: never
    }
    get?: never
    put?: never
    /**
     * Trial
     * @description Everything that a run does, with nothing written.
     */
    post: {
      parameters: {
        query?: never
        header?: never
        path: {
          /** @description The name of a job. */
          job: string
        }
        cookie?: never
      }
      requestBody: {
        content: {
          'application/json': components['schemas']['RunRequest']
        }
      }
      responses: {
        /** @description OK */
        200: {
          headers: {
            [name: string]: unknown
          }
          content: {
            'application/json': components['schemas']['ReportView']
          }
        }
        /** @description A parameter or the JSON is not what the call takes */
        400: {
          headers: {
            [name: string]: unknown
          }
          content: {
            'application/problem+json': components['schemas']['ProblemDetail']
          }
        }
        /** @description There is nothing of that name or number */
        404: {
          headers: {
            [name: string]: unknown
          }
          content: {
            'application/problem+json': components['schemas']['ProblemDetail']
          }
        }
        /** @description Something stands in the way: a run, a change by somebody else, rows stored otherwise */
        409: {
          headers: {
            [name: string]: unknown
          }
          content: {
            'application/problem+json': components['schemas']['ProblemDetail']
          }
        }
        /** @description A definition file has mistakes */
        422: {
          headers: {
            [name: string]: unknown
          }
          content: {
            'application/problem+json': components['schemas']['ProblemDetail']
          }
        }
        /** @description An error that was not foreseen; the service's log has more */
        500: {
          headers: {
            [name: string]: unknown
          }
          content: {
            'application/problem+json': components['schemas']['ProblemDetail']
          }
        }
        /** @description The catalogue cannot be used, mostly for the disk */
        503: {
          headers: {
            [name: string]: unknown
          }
          content: {
            'application/problem+json': components['schemas']['ProblemDetail']
          }
        }
      }
    }
    delete?: never
    options?: never
    head?: never
    patch?: never
    trace?: never
  }
  '/api/v1/messages': {
    parameters: {
      query?: never
      header?: never
      path?: never
      cookie?: never
    }
    /**
     * Messages
     * @description Messages about runs and arrivals, the latest first.
     */
    get: {
      parameters: {
        query?: {
          /** @description The name of a job. */
          job?: string
          /** @description How many, at most 1000. */
          limit?: number
        }
        header?: never
        path?: never
        cookie?: never
      }
      requestBody?: never
      responses: {
        /** @description OK */
        200: {
          headers: {
            [name: string]: unknown
          }
          content: {
            'application/json': components['schemas']['MessageView'][]
          }
        }
        /** @description A parameter or the JSON is not what the call takes */
        400: {
          headers: {
            [name: string]: unknown
          }
          content: {
            'application/problem+json': components['schemas']['ProblemDetail']
          }
        }
        /** @description An error that was not foreseen; the service's log has more */
        500: {
          headers: {
            [name: string]: unknown
          }
          content: {
            'application/problem+json': components['schemas']['ProblemDetail']
          }
        }
        /** @description The catalogue cannot be used, mostly for the disk */
        503: {
          headers: {
            [name: string]: unknown
          }
          content: {
            'application/problem+json': components['schemas']['ProblemDetail']
          }
        }
      }
    }
    put?: never
    post?: never
    delete?: never
    options?: never
    head?: never
    patch?: never
    trace?: never
  }
  '/api/v1/messages/again': {
    parameters: {
      query?: never
      header?: never
      path?: never
      cookie?: never
    }
    get?: never
    put?: never
    /**
     * Again
     * @description Has messages sent once more that were given up.
     */
    post: {
      parameters: {
        query?: never
        header?: never
        path?: never
        cookie?: never
      }
      requestBody?: never
      responses: {
        /** @description OK */
        200: {
          headers: {
            [name: string]: unknown
          }
          content: {
            'application/json': components['schemas']['SentAgain']
          }
        }
        /** @description A parameter or the JSON is not what the call takes */
        400: {
          headers: {
            [name: string]: unknown
          }
          content: {
            'application/problem+json': components['schemas']['ProblemDetail']
          }
        }
        /** @description Something stands in the way: a run, a change by somebody else, rows stored otherwise */
        409: {
          headers: {
            [name: string]: unknown
          }
          content: {
            'application/problem+json': components['schemas']['ProblemDetail']
          }
        }
        /** @description An error that was not foreseen; the service's log has more */
        500: {
          headers: {
            [name: string]: unknown
          }
          content: {
            'application/problem+json': components['schemas']['ProblemDetail']
          }
        }
        /** @description The catalogue cannot be used, mostly for the disk */
        503: {
          headers: {
            [name: string]: unknown
          }
          content: {
            'application/problem+json': components['schemas']['ProblemDetail']
          }
        }
      }
    }
    delete?: never
    options?: never
    head?: never
    patch?: never
    trace?: never
  }
  '/api/v1/messages/trial': {
    parameters: {
      query?: never
      header?: never
      path?: never
      cookie?: never
    }
    get?: never
    put?: never
    /**
     * Trial
     * @description Sends a trial message, so that one sees whether an account works.
     */
    post: {
      parameters: {
        query?: never
        header?: never
        path?: never
        cookie?: never
      }
      requestBody: {
        content: {
          'application/json': components['schemas']['TrialMessage']
        }
      }
      responses: {
        /** @description OK */
        200: {
          headers: {
            [name: string]: unknown
          }
          content: {
            'application/json': components['schemas']['MessageView']
          }
        }
        /** @description A parameter or the JSON is not what the call takes */
        400: {
          headers: {
            [name: string]: unknown
          }
          content: {
            'application/problem+json': components['schemas']['ProblemDetail']
          }
        }
        /** @description Something stands in the way: a run, a change by somebody else, rows stored otherwise */
        409: {
          headers: {
            [name: string]: unknown
          }
          content: {
            'application/problem+json': components['schemas']['ProblemDetail']
          }
        }
        /** @description A definition file has mistakes */
        422: {
          headers: {
            [name: string]: unknown
          }
          content: {
            'application/problem+json': components['schemas']['ProblemDetail']
          }
        }
        /** @description An error that was not foreseen; the service's log has more */
        500: {
          headers: {
            [name: string]: unknown
          }
          content: {
            'application/problem+json': components['schemas']['ProblemDetail']
          }
        }
        /** @description The catalogue cannot be used, mostly for the disk */
        503: {
          headers: {
            [name: string]: unknown
          }
          content: {
            'application/problem+json': components['schemas']['ProblemDetail']
          }
        }
      }
    }
    delete?: never
    options?: never
    head?: never
    patch?: never
    trace?: never
  }
  '/api/v1/messages/{message}': {
    parameters: {
      query?: never
      header?: never
      path?: never
      cookie?: never
    }
    /**
     * Message
     * @description A message, with its text.
     */
    get: {
      parameters: {
        query?: never
        header?: never
        path: {
          /** @description The number of a message. */
          message: number
        }
        cookie?: never
      }
      requestBody?: never
      responses: {
        /** @description OK */
        200: {
          headers: {
            [name: string]: unknown
          }
          content: {
            'application/json': components['schemas']['MessageView']
          }
        }
        /** @description A parameter or the JSON is not what the call takes */
        400: {
          headers: {
            [name: string]: unknown
          }
          content: {
            'application/problem+json': components['schemas']['ProblemDetail']
          }
        }
        /** @description There is nothing of that name or number */
        404: {
          headers: {
            [name: string]: unknown
          }
          content: {
            'application/problem+json': components['schemas']['ProblemDetail']
          }
        }
        /** @description An error that was not foreseen; the service's log has more */
        500: {
          headers: {
            [name: string]: unknown
          }
          content: {
            'application/problem+json': components['schemas']['ProblemDetail']
          }
        }
        /** @description The catalogue cannot be used, mostly for the disk */
        503: {
          headers: {
            [name: string]: unknown
          }
          content: {
            'application/problem+json': components['schemas']['ProblemDetail']
          }
        }
      }
    }
    put?: never
    post?: never
    delete?: never
    options?: never
    head?: never
    patch?: never
    trace?: never
  }
  '/api/v1/metrics': {
    parameters: {
      query?: never
      header?: never
      path?: never
      cookie?: never
    }
    /**
     * Metrics
     * @description How the last run of each job went and what arrived, for programs that watch services.
     */
    get: {
      parameters: {
        query?: never
        header?: never
        path?: never
        cookie?: never
      }
      requestBody?: never
      responses: {
        /** @description OK */
        200: {
          headers: {
            [name: string]: unknown
          }
          content: {
            'text/plain;version=0.0.4;charset=utf-8': string
          }
        }
        /** @description A parameter or the JSON is not what the call takes */
        400: {
          headers: {
            [name: string]: unknown
          }
          content: {
            'application/problem+json': components['schemas']['ProblemDetail']
          }
        }
        /** @description An error that was not foreseen; the service's log has more */
        500: {
          headers: {
            [name: string]: unknown
          }
          content: {
            'application/problem+json': components['schemas']['ProblemDetail']
          }
        }
        /** @description The catalogue cannot be used, mostly for the disk */
        503: {
          headers: {
            [name: string]: unknown
          }
          content: {
            'application/problem+json': components['schemas']['ProblemDetail']
          }
        }
      }
    }
    put?: never
    post?: never
    delete?: never
    options?: never
    head?: never
    patch?: never
    trace?: never
  }
  '/api/v1/queries': {
    parameters: {
      query?: never
      header?: never
      path?: never
      cookie?: never
    }
    /**
     * Queries
     * @description All saved queries, with the mistakes of their files.
     */
    get: {
      parameters: {
        query?: never
        header?: never
        path?: never
        cookie?: never
      }
      requestBody?: never
      responses: {
        /** @description OK */
        200: {
          headers: {
            [name: string]: unknown
          }
          content: {
            'application/json': components['schemas']['QueryView'][]
          }
        }
        /** @description A parameter or the JSON is not what the call takes */
        400: {
          headers: {
            [name: string]: unknown
          }
          content: {
            'application/problem+json': components['schemas']['ProblemDetail']
          }
        }
        /** @description An error that was not foreseen; the service's log has more */
        500: {
          headers: {
            [name: string]: unknown
          }
          content: {
            'application/problem+json': components['schemas']['ProblemDetail']
          }
        }
        /** @description The catalogue cannot be used, mostly for the disk */
        503: {
          headers: {
            [name: string]: unknown
          }
          content: {
            'application/problem+json': components['schemas']['ProblemDetail']
          }
        }
      }
    }
    put?: never
    post?: never
    delete?: never
    options?: never
    head?: never
    patch?: never
    trace?: never
  }
  '/api/v1/queries/{query}': {
    parameters: {
      query?: never
      header?: never
      path?: never
      cookie?: never
    }
    /**
     * Query
     * @description A saved query, and what in it does not suit its dataset by now.
     */
    get: {
      parameters: {
        query?: never
        header?: never
        path: {
          /** @description The name of a saved query. */
          query: string
        }
        cookie?: never
      }
      requestBody?: never
      responses: {
        /** @description OK */
        200: {
          headers: {
            [name: string]: unknown
          }
          content: {
            'application/json': components['schemas']['QueryView']
          }
        }
        /** @description A parameter or the JSON is not what the call takes */
        400: {
          headers: {
            [name: string]: unknown
          }
          content: {
            'application/problem+json': components['schemas']['ProblemDetail']
          }
        }
        /** @description There is nothing of that name or number */
        404: {
          headers: {
            [name: string]: unknown
          }
          content: {
            'application/problem+json': components['schemas']['ProblemDetail']
          }
        }
        /** @description An error that was not foreseen; the service's log has more */
        500: {
          headers: {
            [name: string]: unknown
          }
          content: {
            'application/problem+json': components['schemas']['ProblemDetail']
          }
        }
        /** @description The catalogue cannot be used, mostly for the disk */
        503: {
          headers: {
            [name: string]: unknown
          }
          content: {
            'application/problem+json': components['schemas']['ProblemDetail']
          }
        }
      }
    }
    /**
     * Save
     * @description Saves a query under a name; it must suit its dataset.
     */
    put: {
      parameters: {
        query?: never
        header?: never
        path: {
          /** @description The name of a saved query. */
          query: string
        }
        cookie?: never
      }
      requestBody: {
        content: {
          'application/json': components['schemas']['SaveQueryRequest']
        }
      }
      responses: {
        /** @description OK */
        200: {
          headers: {
            [name: string]: unknown
          }
          content: {
            'application/json': components['schemas']['QueryView']
          }
        }
        /** @description Made */
        201: {
          headers: {
            [name: string]: unknown
          }
          content: {
            'application/json': components['schemas']['QueryView']
          }
        }
        /** @description A parameter or the JSON is not what the call takes */
        400: {
          headers: {
            [name: string]: unknown
          }
          content: {
            'application/problem+json': components['schemas']['ProblemDetail']
          }
        }
        /** @description There is nothing of that name or number */
        404: {
          headers: {
            [name: string]: unknown
          }
          content: {
            'application/problem+json': components['schemas']['ProblemDetail']
          }
        }
        /** @description Something stands in the way: a run, a change by somebody else, rows stored otherwise */
        409: {
          headers: {
            [name: string]: unknown
          }
          content: {
            'application/problem+json': components['schemas']['ProblemDetail']
          }
        }
        /** @description A definition file has mistakes */
        422: {
          headers: {
            [name: string]: unknown
          }
          content: {
            'application/problem+json': components['schemas']['ProblemDetail']
          }
        }
        /** @description An error that was not foreseen; the service's log has more */
        500: {
          headers: {
            [name: string]: unknown
          }
          content: {
            'application/problem+json': components['schemas']['ProblemDetail']
          }
        }
        /** @description The catalogue cannot be used, mostly for the disk */
        503: {
          headers: {
            [name: string]: unknown
          }
          content: {
            'application/problem+json': components['schemas']['ProblemDetail']
          }
        }
      }
    }
    post?: never
    /**
     * Delete
     * @description Deletes a saved query.
     */
    delete: {
      parameters: {
        query?: never
        header?: never
        path: {
          /** @description The name of a saved query. */
          query: string
        }
        cookie?: never
      }
      requestBody?: never
      responses: {
        /** @description No Content */
        204: {
          headers: {
            [name: string]: unknown
          }
          content?: never
        }
        /** @description A parameter or the JSON is not what the call takes */
        400: {
          headers: {
            [name: string]: unknown
          }
          content: {
            'application/problem+json': components['schemas']['ProblemDetail']
          }
        }
        /** @description There is nothing of that name or number */
        404: {
          headers: {
            [name: string]: unknown
          }
          content: {
            'application/problem+json': components['schemas']['ProblemDetail']
          }
        }
        /** @description Something stands in the way: a run, a change by somebody else, rows stored otherwise */
        409: {
          headers: {
            [name: string]: unknown
          }
          content: {
            'application/problem+json': components['schemas']['ProblemDetail']
          }
        }
        /** @description An error that was not foreseen; the service's log has more */
        500: {
          headers: {
            [name: string]: unknown
          }
          content: {
            'application/problem+json': components['schemas']['ProblemDetail']
          }
        }
        /** @description The catalogue cannot be used, mostly for the disk */
        503: {
          headers: {
            [name: string]: unknown
          }
          content: {
            'application/problem+json': components['schemas']['ProblemDetail']
          }
        }
      }
    }
    options?: never
    head?: never
    patch?: never
    trace?: never
  }
  '/api/v1/reasons': {
    parameters: {
      query?: never
      header?: never
      path?: never
      cookie?: never
    }
    /**
     * Reasons
     * @description Every reason for which something is rejected: what it means and what to do.
     */
    get: {
      parameters: {
        query?: never
        header?: never
        path?: never
        cookie?: never
      }
      requestBody?: never
      responses: {
        /** @description OK */
        200: {
          headers: {
            [name: string]: unknown
          }
          content: {
            'application/json': components['schemas']['ReasonMeaning'][]
          }
        }
        /** @description A parameter or the JSON is not what the call takes */
        400: {
          headers: {
            [name: string]: unknown
          }
          content: {
            'application/problem+json': components['schemas']['ProblemDetail']
          }
        }
        /** @description An error that was not foreseen; the service's log has more */
        500: {
          headers: {
            [name: string]: unknown
          }
          content: {
            'application/problem+json': components['schemas']['ProblemDetail']
          }
        }
        /** @description The catalogue cannot be used, mostly for the disk */
        503: {
          headers: {
            [name: string]: unknown
          }
          content: {
            'application/problem+json': components['schemas']['ProblemDetail']
          }
        }
      }
    }
    put?: never
    post?: never
    delete?: never
    options?: never
    head?: never
    patch?: never
    trace?: never
  }
  '/api/v1/rejects': {
    parameters: {
      query?: never
      header?: never
      path?: never
      cookie?: never
    }
    /**
     * Open
     * @description What is currently rejected, by job and reason.
     */
    get: {
      parameters: {
        query?: {
          /** @description The name of a job. */
          job?: string
        }
        header?: never
        path?: never
        cookie?: never
      }
      requestBody?: never
      responses: {
        /** @description OK */
        200: {
          headers: {
            [name: string]: unknown
          }
          content: {
            'application/json': components['schemas']['ReasonView'][]
          }
        }
        /** @description A parameter or the JSON is not what the call takes */
        400: {
          headers: {
            [name: string]: unknown
          }
          content: {
            'application/problem+json': components['schemas']['ProblemDetail']
          }
        }
        /** @description A definition file has mistakes */
        422: {
          headers: {
            [name: string]: unknown
          }
          content: {
            'application/problem+json': components['schemas']['ProblemDetail']
          }
        }
        /** @description An error that was not foreseen; the service's log has more */
        500: {
          headers: {
            [name: string]: unknown
          }
          content: {
            'application/problem+json': components['schemas']['ProblemDetail']
          }
        }
        /** @description The catalogue cannot be used, mostly for the disk */
        503: {
          headers: {
            [name: string]: unknown
          }
          content: {
            'application/problem+json': components['schemas']['ProblemDetail']
          }
        }
      }
    }
    put?: never
    post?: never
    delete?: never
    options?: never
    head?: never
    patch?: never
    trace?: never
  }
  '/api/v1/rejects/{run}/mends': {
    parameters: {
      query?: never
      header?: never
      path?: never
      cookie?: never
    }
    /**
     * Mends
     * @description Changes to the definitions by which what a run rejected for a reason would fit.
     */
    get: {
      parameters: {
        query?: {
          /** @description A reason, such as date-unreadable. */
          code?: string
          /** @description A column of the dataset; empty where a whole row or file is meant. */
          column?: string
        }
        header?: never
        path: {
          /** @description The number of a run, or of another entry of the history. */
          run: number
        }
        cookie?: never
      }
      requestBody?: never
      responses: {
        /** @description OK */
        200: {
          headers: {
            [name: string]: unknown
          }
          content: {
            'application/json': components['schemas']['Fixes']
          }
        }
        /** @description A parameter or the JSON is not what the call takes */
        400: {
          headers: {
            [name: string]: unknown
          }
          content: {
            'application/problem+json': components['schemas']['ProblemDetail']
          }
        }
        /** @description There is nothing of that name or number */
        404: {
          headers: {
            [name: string]: unknown
          }
          content: {
            'application/problem+json': components['schemas']['ProblemDetail']
          }
        }
        /** @description A definition file has mistakes */
        422: {
          headers: {
            [name: string]: unknown
          }
          content: {
            'application/problem+json': components['schemas']['ProblemDetail']
          }
        }
        /** @description An error that was not foreseen; the service's log has more */
        500: {
          headers: {
            [name: string]: unknown
          }
          content: {
            'application/problem+json': components['schemas']['ProblemDetail']
          }
        }
        /** @description The catalogue cannot be used, mostly for the disk */
        503: {
          headers: {
            [name: string]: unknown
          }
          content: {
            'application/problem+json': components['schemas']['ProblemDetail']
          }
        }
      }
    }
    put?: never
    post?: never
    delete?: never
    options?: never
    head?: never
    patch?: never
    trace?: never
  }
  '/api/v1/rejects/{run}/trace': {
    parameters: {
      query?: never
      header?: never
      path?: never
      cookie?: never
    }
    /**
     * Trace
     * @description One rejected row through all steps, by the rules as they are now.
     */
    get: {
      parameters: {
        query?: {
          /** @description The path of a file, as rejects name it. */
          path?: string
          /** @description Which row of the file, counted from 1. */
          row?: number
        }
        header?: never
        path: {
          /** @description The number of a run, or of another entry of the history. */
          run: number
        }
        cookie?: never
      }
      requestBody?: never
      responses: {
        /** @description OK */
        200: {
          headers: {
            [name: string]: unknown
          }
          content: {
            'application/json': components['schemas']['Trace']
          }
        }
        /** @description A parameter or the JSON is not what the call takes */
        400: {
          headers: {
            [name: string]: unknown
          }
          content: {
            'application/problem+json': components['schemas']['ProblemDetail']
          }
        }
        /** @description There is nothing of that name or number */
        404: {
          headers: {
            [name: string]: unknown
          }
          content: {
            'application/problem+json': components['schemas']['ProblemDetail']
          }
        }
        /** @description A definition file has mistakes */
        422: {
          headers: {
            [name: string]: unknown
          }
          content: {
            'application/problem+json': components['schemas']['ProblemDetail']
          }
        }
        /** @description An error that was not foreseen; the service's log has more */
        500: {
          headers: {
            [name: string]: unknown
          }
          content: {
            'application/problem+json': components['schemas']['ProblemDetail']
          }
        }
        /** @description The catalogue cannot be used, mostly for the disk */
        503: {
          headers: {
            [name: string]: unknown
          }
          content: {
            'application/problem+json': components['schemas']['ProblemDetail']
          }
        }
      }
    }
    put?: never
    post?: never
    delete?: never
    options?: never
    head?: never
    patch?: never
    trace?: never
  }
  '/api/v1/runs': {
    parameters: {
      query?: never
      header?: never
      path?: never
      cookie?: never
    }
    /**
     * Runs
     * @description Runs and other entries of the history, the newest first.
     */
    get: {
      parameters: {
        query?: {
          /** @description The name of a job. */
          job?: string
          /** @description A part of what people call a run. */
          label?: string
          /** @description How many, at most 1000. */
          limit?: number
          /** @description How many to skip. */
          offset?: number
        }
        header?: never
        path?: never
        cookie?: never
      }
      requestBody?: never
      responses: {
        /** @description OK */
        200: {
          headers: {
            [name: string]: unknown
          }
          content: {
            'application/json': components['schemas']['RunView'][]
          }
        }
        /** @description A parameter or the JSON is not what the call takes */
        400: {
          headers: {
            [name: string]: unknown
          }
          content: {
            'application/problem+json': components['schemas']['ProblemDetail']
          }
        }
        /** @description An error that was not foreseen; the service's log has more */
        500: {
          headers: {
            [name: string]: unknown
          }
          content: {
            'application/problem+json': components['schemas']['ProblemDetail']
          }
        }
        /** @description The catalogue cannot be used, mostly for the disk */
        503: {
          headers: {
            [name: string]: unknown
          }
          content: {
            'application/problem+json': components['schemas']['ProblemDetail']
          }
        }
      }
    }
    put?: never
    post?: never
    delete?: never
    options?: never
    head?: never
    patch?: never
    trace?: never
  }
  '/api/v1/runs/{run}': {
    parameters: {
      query?: never
      header?: never
      path?: never
      cookie?: never
    }
    /**
     * Run
     * @description One run with its balance.
     */
    get: {
      parameters: {
        query?: never
        header?: never
        path: {
          /** @description The number of a run, or of another entry of the history. */
          run: number
        }
        cookie?: never
      }
      requestBody?: never
      responses: {
        /** @description OK */
        200: {
          headers: {
            [name: string]: unknown
          }
          content: {
            'application/json': components['schemas']['RunView']
          }
        }
        /** @description A parameter or the JSON is not what the call takes */
        400: {
          headers: {
            [name: string]: unknown
          }
          content: {
            'application/problem+json': components['schemas']['ProblemDetail']
          }
        }
        /** @description There is nothing of that name or number */
        404: {
          headers: {
            [name: string]: unknown
          }
          content: {
            'application/problem+json': components['schemas']['ProblemDetail']
          }
        }
        /** @description An error that was not foreseen; the service's log has more */
        500: {
          headers: {
            [name: string]: unknown
          }
          content: {
            'application/problem+json': components['schemas']['ProblemDetail']
          }
        }
        /** @description The catalogue cannot be used, mostly for the disk */
        503: {
          headers: {
            [name: string]: unknown
          }
          content: {
            'application/problem+json': components['schemas']['ProblemDetail']
          }
        }
      }
    }
    put?: never
    post?: never
    delete?: never
    options?: never
    head?: never
    patch?: never
    trace?: never
  }
  '/api/v1/runs/{run}/aside': {
    parameters: {
      query?: never
      header?: never
      path?: never
      cookie?: never
    }
    /**
     * Aside
     * @description What a run set aside by the job's own rules, by rule.
     */
    get: {
      parameters: {
        query?: never
        header?: never
        path: {
          /** @description The number of a run, or of another entry of the history. */
          run: number
        }
        cookie?: never
      }
      requestBody?: never
      responses: {
        /** @description OK */
        200: {
          headers: {
            [name: string]: unknown
          }
          content: {
            'application/json': components['schemas']['RuleCount'][]
          }
        }
        /** @description A parameter or the JSON is not what the call takes */
        400: {
          headers: {
            [name: string]: unknown
          }
          content: {
            'application/problem+json': components['schemas']['ProblemDetail']
          }
        }
        /** @description There is nothing of that name or number */
        404: {
          headers: {
            [name: string]: unknown
          }
          content: {
            'application/problem+json': components['schemas']['ProblemDetail']
          }
        }
        /** @description An error that was not foreseen; the service's log has more */
        500: {
          headers: {
            [name: string]: unknown
          }
          content: {
            'application/problem+json': components['schemas']['ProblemDetail']
          }
        }
        /** @description The catalogue cannot be used, mostly for the disk */
        503: {
          headers: {
            [name: string]: unknown
          }
          content: {
            'application/problem+json': components['schemas']['ProblemDetail']
          }
        }
      }
    }
    put?: never
    post?: never
    delete?: never
    options?: never
    head?: never
    patch?: never
    trace?: never
  }
  '/api/v1/runs/{run}/aside/export': {
    parameters: {
      query?: never
      header?: never
      path?: never
      cookie?: never
    }
    /**
     * Aside Export
     * @description All rows that a run set aside, as a file.
     */
    get: {
      parameters: {
        query?: {
          /** @description The format of the file. */
          as?: string
        }
        header?: never
        path: {
          /** @description The number of a run, or of another entry of the history. */
          run: number
        }
        cookie?: never
      }
      requestBody?: never
      responses: {
        /** @description OK */
        200: {
          headers: {
            [name: string]: unknown
          }
          content?: never
        }
        /** @description A parameter or the JSON is not what the call takes */
        400: {
          headers: {
            [name: string]: unknown
          }
          content: {
            'application/problem+json': components['schemas']['ProblemDetail']
          }
        }
        /** @description There is nothing of that name or number */
        404: {
          headers: {
            [name: string]: unknown
          }
          content: {
            'application/problem+json': components['schemas']['ProblemDetail']
          }
        }
        /** @description An error that was not foreseen; the service's log has more */
        500: {
          headers: {
            [name: string]: unknown
          }
          content: {
            'application/problem+json': components['schemas']['ProblemDetail']
          }
        }
        /** @description The catalogue cannot be used, mostly for the disk */
        503: {
          headers: {
            [name: string]: unknown
          }
          content: {
            'application/problem+json': components['schemas']['ProblemDetail']
          }
        }
      }
    }
    put?: never
    post?: never
    delete?: never
    options?: never
    head?: never
    patch?: never
    trace?: never
  }
  '/api/v1/runs/{run}/aside/rows': {
    parameters: {
      query?: never
      header?: never
      path?: never
      cookie?: never
    }
    /**
     * Aside Rows
     * @description Rows that were set aside, one by one.
     */
    get: {
      parameters: {
        query?: {
          /** @description How many, at most 1000. */
          limit?: number
          /** @description How many to skip. */
          offset?: number
          /** @description The path of a file, as rejects name it. */
          path?: string
          /** @description The rule that set the rows aside, as the job has it. */
          rule?: string
        }
        header?: never
        path: {
          /** @description The number of a run, or of another entry of the history. */
          run: number
        }
        cookie?: never
      }
      requestBody?: never
      responses: {
        /** @description OK */
        200: {
          headers: {
            [name: string]: unknown
          }
          content: {
            'application/json': components['schemas']['Left'][]
          }
        }
        /** @description A parameter or the JSON is not what the call takes */
        400: {
          headers: {
            [name: string]: unknown
          }
          content: {
            'application/problem+json': components['schemas']['ProblemDetail']
          }
        }
        /** @description There is nothing of that name or number */
        404: {
          headers: {
            [name: string]: unknown
          }
          content: {
            'application/problem+json': components['schemas']['ProblemDetail']
          }
        }
        /** @description An error that was not foreseen; the service's log has more */
        500: {
          headers: {
            [name: string]: unknown
          }
          content: {
            'application/problem+json': components['schemas']['ProblemDetail']
          }
        }
        /** @description The catalogue cannot be used, mostly for the disk */
        503: {
          headers: {
            [name: string]: unknown
          }
          content: {
            'application/problem+json': components['schemas']['ProblemDetail']
          }
        }
      }
    }
    put?: never
    post?: never
    delete?: never
    options?: never
    head?: never
    patch?: never
    trace?: never
  }
  '/api/v1/runs/{run}/cancel': {
    parameters: {
      query?: never
      header?: never
      path?: never
      cookie?: never
    }
    get?: never
    put?: never
    /**
     * Cancel
     * @description Asks a run to stop. Files that it has finished stay.
     */
    post: {
      parameters: {
        query?: never
        header?: never
        path: {
          /** @description The number of a run, or of another entry of the history. */
          run: number
        }
        cookie?: never
      }
      requestBody?: never
      responses: {
        /** @description Asked to stop */
        204: {
          headers: {
            [name: string]: unknown
          }
          content?: never
        }
        /** @description A parameter or the JSON is not what the call takes */
        400: {
          headers: {
            [name: string]: unknown
          }
          content: {
            'application/problem+json': components['schemas']['ProblemDetail']
          }
        }
        /** @description There is nothing of that name or number */
        404: {
          headers: {
            [name: string]: unknown
          }
          content: {
            'application/problem+json': components['schemas']['ProblemDetail']
          }
        }
        /** @description Something stands in the way: a run, a change by somebody else, rows stored otherwise */
        409: {
          headers: {
            [name: string]: unknown
          }
          content: {
            'application/problem+json': components['schemas']['ProblemDetail']
          }
        }
        /** @description An error that was not foreseen; the service's log has more */
        500: {
          headers: {
            [name: string]: unknown
          }
          content: {
            'application/problem+json': components['schemas']['ProblemDetail']
          }
        }
        /** @description The catalogue cannot be used, mostly for the disk */
        503: {
          headers: {
            [name: string]: unknown
          }
          content: {
            'application/problem+json': components['schemas']['ProblemDetail']
          }
        }
      }
    }
    delete?: never
    options?: never
    head?: never
    patch?: never
    trace?: never
  }
  '/api/v1/runs/{run}/comparison': {
    parameters: {
      query?: never
      header?: never
      path?: never
      cookie?: never
    }
    /**
     * Comparison
     * @description A run beside the one before it, or another one, file by file.
     */
    get: {
      parameters: {
        query?: {
          /** @description The number of another run. */
          with?: number
        }
        header?: never
        path: {
          /** @description The number of a run, or of another entry of the history. */
          run: number
        }
        cookie?: never
      }
      requestBody?: never
      responses: {
        /** @description OK */
        200: {
          headers: {
            [name: string]: unknown
          }
          content: {
            'application/json': components['schemas']['Comparison']
          }
        }
        /** @description A parameter or the JSON is not what the call takes */
        400: {
          headers: {
            [name: string]: unknown
          }
          content: {
            'application/problem+json': components['schemas']['ProblemDetail']
          }
        }
        /** @description There is nothing of that name or number */
        404: {
          headers: {
            [name: string]: unknown
          }
          content: {
            'application/problem+json': components['schemas']['ProblemDetail']
          }
        }
        /** @description An error that was not foreseen; the service's log has more */
        500: {
          headers: {
            [name: string]: unknown
          }
          content: {
            'application/problem+json': components['schemas']['ProblemDetail']
          }
        }
        /** @description The catalogue cannot be used, mostly for the disk */
        503: {
          headers: {
            [name: string]: unknown
          }
          content: {
            'application/problem+json': components['schemas']['ProblemDetail']
          }
        }
      }
    }
    put?: never
    post?: never
    delete?: never
    options?: never
    head?: never
    patch?: never
    trace?: never
  }
  '/api/v1/runs/{run}/definitions': {
    parameters: {
      query?: never
      header?: never
      path?: never
      cookie?: never
    }
    /**
     * Changes
     * @description By which definitions a run went, and what changed in them since, or up to another run.
     */
    get: {
      parameters: {
        query?: {
          /** @description The number of another run. */
          with?: number
        }
        header?: never
        path: {
          /** @description The number of a run, or of another entry of the history. */
          run: number
        }
        cookie?: never
      }
      requestBody?: never
      responses: {
        /** @description OK */
        200: {
          headers: {
            [name: string]: unknown
          }
          content: {
            'application/json': components['schemas']['DefinitionChanges']
          }
        }
        /** @description A parameter or the JSON is not what the call takes */
        400: {
          headers: {
            [name: string]: unknown
          }
          content: {
            'application/problem+json': components['schemas']['ProblemDetail']
          }
        }
        /** @description There is nothing of that name or number */
        404: {
          headers: {
            [name: string]: unknown
          }
          content: {
            'application/problem+json': components['schemas']['ProblemDetail']
          }
        }
        /** @description An error that was not foreseen; the service's log has more */
        500: {
          headers: {
            [name: string]: unknown
          }
          content: {
            'application/problem+json': components['schemas']['ProblemDetail']
          }
        }
        /** @description The catalogue cannot be used, mostly for the disk */
        503: {
          headers: {
            [name: string]: unknown
          }
          content: {
            'application/problem+json': components['schemas']['ProblemDetail']
          }
        }
      }
    }
    put?: never
    post?: never
    delete?: never
    options?: never
    head?: never
    patch?: never
    trace?: never
  }
  '/api/v1/runs/{run}/events': {
    parameters: {
      query?: never
      header?: never
      path?: never
      cookie?: never
    }
    /**
     * Events
     * @description The progress of a run as server-sent events, until it ends.
     */
    get: {
      parameters: {
        query?: never
        header?: never
        path: {
          /** @description The number of a run, or of another entry of the history. */
          run: number
        }
        cookie?: never
      }
      requestBody?: never
      responses: {
        /** @description OK */
        200: {
          headers: {
            [name: string]: unknown
          }
          content: {
            'text/event-stream': components['schemas']['RunEvent'][]
          }
        }
        /** @description A parameter or the JSON is not what the call takes */
        400: {
          headers: {
            [name: string]: unknown
          }
          content: {
            'application/problem+json': components['schemas']['ProblemDetail']
          }
        }
        /** @description There is nothing of that name or number */
        404: {
          headers: {
            [name: string]: unknown
          }
          content: {
            'application/problem+json': components['schemas']['ProblemDetail']
          }
        }
        /** @description An error that was not foreseen; the service's log has more */
        500: {
          headers: {
            [name: string]: unknown
          }
          content: {
            'application/problem+json': components['schemas']['ProblemDetail']
          }
        }
        /** @description The catalogue cannot be used, mostly for the disk */
        503: {
          headers: {
            [name: string]: unknown
          }
          content: {
            'application/problem+json': components['schemas']['ProblemDetail']
          }
        }
      }
    }
    put?: never
    post?: never
    delete?: never
    options?: never
    head?: never
    patch?: never
    trace?: never
  }
  '/api/v1/runs/{run}/files': {
    parameters: {
      query?: never
      header?: never
      path?: never
      cookie?: never
    }
    /**
     * Files
     * @description The files of a run, and what became of each.
     */
    get: {
      parameters: {
        query?: never
        header?: never
        path: {
          /** @description The number of a run, or of another entry of the history. */
          run: number
        }
        cookie?: never
      }
      requestBody?: never
      responses: {
        /** @description OK */
        200: {
          headers: {
            [name: string]: unknown
          }
          content: {
            'application/json': components['schemas']['FileView'][]
          }
        }
        /** @description A parameter or the JSON is not what the call takes */
        400: {
          headers: {
            [name: string]: unknown
          }
          content: {
            'application/problem+json': components['schemas']['ProblemDetail']
          }
        }
        /** @description There is nothing of that name or number */
        404: {
          headers: {
            [name: string]: unknown
          }
          content: {
            'application/problem+json': components['schemas']['ProblemDetail']
          }
        }
        /** @description An error that was not foreseen; the service's log has more */
        500: {
          headers: {
            [name: string]: unknown
          }
          content: {
            'application/problem+json': components['schemas']['ProblemDetail']
          }
        }
        /** @description The catalogue cannot be used, mostly for the disk */
        503: {
          headers: {
            [name: string]: unknown
          }
          content: {
            'application/problem+json': components['schemas']['ProblemDetail']
          }
        }
      }
    }
    put?: never
    post?: never
    delete?: never
    options?: never
    head?: never
    patch?: never
    trace?: never
  }
  '/api/v1/runs/{run}/label': {
    parameters: {
      query?: never
      header?: never
      path?: never
      cookie?: never
    }
    get?: never
    put?: never
    /**
     * Label
     * @description Calls a run by a label; an empty one takes it away.
     */
    post: {
      parameters: {
        query?: never
        header?: never
        path: {
          /** @description The number of a run, or of another entry of the history. */
          run: number
        }
        cookie?: never
      }
      requestBody: {
        content: {
          'application/json': components['schemas']['LabelRequest']
        }
      }
      responses: {
        /** @description OK */
        200: {
          headers: {
            [name: string]: unknown
          }
          content: {
            'application/json': components['schemas']['RunView']
          }
        }
        /** @description A parameter or the JSON is not what the call takes */
        400: {
          headers: {
            [name: string]: unknown
          }
          content: {
            'application/problem+json': components['schemas']['ProblemDetail']
          }
        }
        /** @description There is nothing of that name or number */
        404: {
          headers: {
            [name: string]: unknown
          }
          content: {
            'application/problem+json': components['schemas']['ProblemDetail']
          }
        }
        /** @description Something stands in the way: a run, a change by somebody else, rows stored otherwise */
        409: {
          headers: {
            [name: string]: unknown
          }
          content: {
            'application/problem+json': components['schemas']['ProblemDetail']
          }
        }
        /** @description A definition file has mistakes */
        422: {
          headers: {
            [name: string]: unknown
          }
          content: {
            'application/problem+json': components['schemas']['ProblemDetail']
          }
        }
        /** @description An error that was not foreseen; the service's log has more */
        500: {
          headers: {
            [name: string]: unknown
          }
          content: {
            'application/problem+json': components['schemas']['ProblemDetail']
          }
        }
        /** @description The catalogue cannot be used, mostly for the disk */
        503: {
          headers: {
            [name: string]: unknown
          }
          content: {
            'application/problem+json': components['schemas']['ProblemDetail']
          }
        }
      }
    }
    delete?: never
    options?: never
    head?: never
    patch?: never
    trace?: never
  }
  '/api/v1/runs/{run}/log': {
    parameters: {
      query?: never
      header?: never
      path?: never
      cookie?: never
    }
    /**
     * Log
     * @description A piece of what a run did, line by line; asked again, it is followed.
     */
    get: {
      parameters: {
        query?: {
          /** @description Where in a log to begin: the next of the last piece, 0 for the beginning. */
          at?: number
          /** @description Only lines that matter as much: info, warn or error. */
          level?: string
          /** @description How many, at most 1000. */
          limit?: number
        }
        header?: never
        path: {
          /** @description The number of a run, or of another entry of the history. */
          run: number
        }
        cookie?: never
      }
      requestBody?: never
      responses: {
        /** @description OK */
        200: {
          headers: {
            [name: string]: unknown
          }
          content: {
            'application/json': components['schemas']['LogPiece']
          }
        }
        /** @description A parameter or the JSON is not what the call takes */
        400: {
          headers: {
            [name: string]: unknown
          }
          content: {
            'application/problem+json': components['schemas']['ProblemDetail']
          }
        }
        /** @description There is nothing of that name or number */
        404: {
          headers: {
            [name: string]: unknown
          }
          content: {
            'application/problem+json': components['schemas']['ProblemDetail']
          }
        }
        /** @description An error that was not foreseen; the service's log has more */
        500: {
          headers: {
            [name: string]: unknown
          }
          content: {
            'application/problem+json': components['schemas']['ProblemDetail']
          }
        }
        /** @description The catalogue cannot be used, mostly for the disk */
        503: {
          headers: {
            [name: string]: unknown
          }
          content: {
            'application/problem+json': components['schemas']['ProblemDetail']
          }
        }
      }
    }
    put?: never
    post?: never
    delete?: never
    options?: never
    head?: never
    patch?: never
    trace?: never
  }
  '/api/v1/runs/{run}/log.jsonl': {
    parameters: {
      query?: never
      header?: never
      path?: never
      cookie?: never
    }
    /**
     * File
     * @description All of a run's log as a file, a JSON object on each line.
     */
    get: {
      parameters: {
        query?: never
        header?: never
        path: {
          /** @description The number of a run, or of another entry of the history. */
          run: number
        }
        cookie?: never
      }
      requestBody?: never
      responses: {
        /** @description OK */
        200: {
          headers: {
            [name: string]: unknown
          }
          content?: never
        }
        /** @description A parameter or the JSON is not what the call takes */
        400: {
          headers: {
            [name: string]: unknown
          }
          content: {
            'application/problem+json': components['schemas']['ProblemDetail']
          }
        }
        /** @description There is nothing of that name or number */
        404: {
          headers: {
            [name: string]: unknown
          }
          content: {
            'application/problem+json': components['schemas']['ProblemDetail']
          }
        }
        /** @description An error that was not foreseen; the service's log has more */
        500: {
          headers: {
            [name: string]: unknown
          }
          content: {
            'application/problem+json': components['schemas']['ProblemDetail']
          }
        }
        /** @description The catalogue cannot be used, mostly for the disk */
        503: {
          headers: {
            [name: string]: unknown
          }
          content: {
            'application/problem+json': components['schemas']['ProblemDetail']
          }
        }
      }
    }
    put?: never
    post?: never
    delete?: never
    options?: never
    head?: never
    patch?: never
    trace?: never
  }
  '/api/v1/runs/{run}/rejects': {
    parameters: {
      query?: never
      header?: never
      path?: never
      cookie?: never
    }
    /**
     * Reasons
     * @description What a run rejected, by reason.
     */
    get: {
      parameters: {
        query?: never
        header?: never
        path: {
          /** @description The number of a run, or of another entry of the history. */
          run: number
        }
        cookie?: never
      }
      requestBody?: never
      responses: {
        /** @description OK */
        200: {
          headers: {
            [name: string]: unknown
          }
          content: {
            'application/json': components['schemas']['ReasonView'][]
          }
        }
        /** @description A parameter or the JSON is not what the call takes */
        400: {
          headers: {
            [name: string]: unknown
          }
          content: {
            'application/problem+json': components['schemas']['ProblemDetail']
          }
        }
        /** @description There is nothing of that name or number */
        404: {
          headers: {
            [name: string]: unknown
          }
          content: {
            'application/problem+json': components['schemas']['ProblemDetail']
          }
        }
        /** @description An error that was not foreseen; the service's log has more */
        500: {
          headers: {
            [name: string]: unknown
          }
          content: {
            'application/problem+json': components['schemas']['ProblemDetail']
          }
        }
        /** @description The catalogue cannot be used, mostly for the disk */
        503: {
          headers: {
            [name: string]: unknown
          }
          content: {
            'application/problem+json': components['schemas']['ProblemDetail']
          }
        }
      }
    }
    put?: never
    post?: never
    delete?: never
    options?: never
    head?: never
    patch?: never
    trace?: never
  }
  '/api/v1/runs/{run}/rejects.csv': {
    parameters: {
      query?: never
      header?: never
      path?: never
      cookie?: never
    }
    /**
     * Rejects File
     * @description The file in which the run keeps its rejects.
     */
    get: {
      parameters: {
        query?: never
        header?: never
        path: {
          /** @description The number of a run, or of another entry of the history. */
          run: number
        }
        cookie?: never
      }
      requestBody?: never
      responses: {
        /** @description OK */
        200: {
          headers: {
            [name: string]: unknown
          }
          content?: never
        }
        /** @description A parameter or the JSON is not what the call takes */
        400: {
          headers: {
            [name: string]: unknown
          }
          content: {
            'application/problem+json': components['schemas']['ProblemDetail']
          }
        }
        /** @description There is nothing of that name or number */
        404: {
          headers: {
            [name: string]: unknown
          }
          content: {
            'application/problem+json': components['schemas']['ProblemDetail']
          }
        }
        /** @description An error that was not foreseen; the service's log has more */
        500: {
          headers: {
            [name: string]: unknown
          }
          content: {
            'application/problem+json': components['schemas']['ProblemDetail']
          }
        }
        /** @description The catalogue cannot be used, mostly for the disk */
        503: {
          headers: {
            [name: string]: unknown
          }
          content: {
            'application/problem+json': components['schemas']['ProblemDetail']
          }
        }
      }
    }
    put?: never
    post?: never
    delete?: never
    options?: never
    head?: never
    patch?: never
    trace?: never
  }
  '/api/v1/runs/{run}/rejects/export': {
    parameters: {
      query?: never
      header?: never
      path?: never
      cookie?: never
    }
    /**
     * Rejects Export
     * @description A run's rejected rows as a file that can be corrected and loaded.
     */
    get: {
      parameters: {
        query?: {
          /** @description The format of the file. */
          as?: string
        }
        header?: never
        path: {
          /** @description The number of a run, or of another entry of the history. */
          run: number
        }
        cookie?: never
      }
      requestBody?: never
      responses: {
        /** @description OK */
        200: {
          headers: {
            [name: string]: unknown
          }
          content?: never
        }
        /** @description A parameter or the JSON is not what the call takes */
        400: {
          headers: {
            [name: string]: unknown
          }
          content: {
            'application/problem+json': components['schemas']['ProblemDetail']
          }
        }
        /** @description There is nothing of that name or number */
        404: {
          headers: {
            [name: string]: unknown
          }
          content: {
            'application/problem+json': components['schemas']['ProblemDetail']
          }
        }
        /** @description An error that was not foreseen; the service's log has more */
        500: {
          headers: {
            [name: string]: unknown
          }
          content: {
            'application/problem+json': components['schemas']['ProblemDetail']
          }
        }
        /** @description The catalogue cannot be used, mostly for the disk */
        503: {
          headers: {
            [name: string]: unknown
          }
          content: {
            'application/problem+json': components['schemas']['ProblemDetail']
          }
        }
      }
    }
    put?: never
    post?: never
    delete?: never
    options?: never
    head?: never
    patch?: never
    trace?: never
  }
  '/api/v1/runs/{run}/rejects/rows': {
    parameters: {
      query?: never
      header?: never
      path?: never
      cookie?: never
    }
    /**
     * Rejected Rows
     * @description Rejected rows one by one, with their text as it stands in the file.
     */
    get: {
      parameters: {
        query?: {
          /** @description A reason, such as date-unreadable. */
          code?: string
          /** @description A column of the dataset; empty where a whole row or file is meant. */
          column?: string
          /** @description How many, at most 1000. */
          limit?: number
          /** @description How many to skip. */
          offset?: number
          /** @description The path of a file, as rejects name it. */
          path?: string
        }
        header?: never
        path: {
          /** @description The number of a run, or of another entry of the history. */
          run: number
        }
        cookie?: never
      }
      requestBody?: never
      responses: {
        /** @description OK */
        200: {
          headers: {
            [name: string]: unknown
          }
          content: {
            'application/json': components['schemas']['Reject'][]
          }
        }
        /** @description A parameter or the JSON is not what the call takes */
        400: {
          headers: {
            [name: string]: unknown
          }
          content: {
            'application/problem+json': components['schemas']['ProblemDetail']
          }
        }
        /** @description There is nothing of that name or number */
        404: {
          headers: {
            [name: string]: unknown
          }
          content: {
            'application/problem+json': components['schemas']['ProblemDetail']
          }
        }
        /** @description An error that was not foreseen; the service's log has more */
        500: {
          headers: {
            [name: string]: unknown
          }
          content: {
            'application/problem+json': components['schemas']['ProblemDetail']
          }
        }
        /** @description The catalogue cannot be used, mostly for the disk */
        503: {
          headers: {
            [name: string]: unknown
          }
          content: {
            'application/problem+json': components['schemas']['ProblemDetail']
          }
        }
      }
    }
    put?: never
    post?: never
    delete?: never
    options?: never
    head?: never
    patch?: never
    trace?: never
  }
  '/api/v1/runs/{run}/retry': {
    parameters: {
      query?: never
      header?: never
      path?: never
      cookie?: never
    }
    get?: never
    put?: never
    /**
     * Retry
     * @description Takes again what a run rejected and what still is, as a run of its own.
     */
    post: {
      parameters: {
        query?: never
        header?: never
        path: {
          /** @description The number of a run, or of another entry of the history. */
          run: number
        }
        cookie?: never
      }
      requestBody: {
        content: {
          'application/json': components['schemas']['RetryRequest']
        }
      }
      responses: {
        /** @description Accepted */
        202: {
          headers: {
            [name: string]: unknown
          }
          content: {
            'application/json': components['schemas']['RunView']
          }
        }
        /** @description A parameter or the JSON is not what the call takes */
        400: {
          headers: {
            [name: string]: unknown
          }
          content: {
            'application/problem+json': components['schemas']['ProblemDetail']
          }
        }
        /** @description There is nothing of that name or number */
        404: {
          headers: {
            [name: string]: unknown
          }
          content: {
            'application/problem+json': components['schemas']['ProblemDetail']
          }
        }
        /** @description Something stands in the way: a run, a change by somebody else, rows stored otherwise */
        409: {
          headers: {
            [name: string]: unknown
          }
          content: {
            'application/problem+json': components['schemas']['ProblemDetail']
          }
        }
        /** @description A definition file has mistakes */
        422: {
          headers: {
            [name: string]: unknown
          }
          content: {
            'application/problem+json': components['schemas']['ProblemDetail']
          }
        }
        /** @description An error that was not foreseen; the service's log has more */
        500: {
          headers: {
            [name: string]: unknown
          }
          content: {
            'application/problem+json': components['schemas']['ProblemDetail']
          }
        }
        /** @description The catalogue cannot be used, mostly for the disk */
        503: {
          headers: {
            [name: string]: unknown
          }
          content: {
            'application/problem+json': components['schemas']['ProblemDetail']
          }
        }
      }
    }
    delete?: never
    options?: never
    head?: never
    patch?: never
    trace?: never
  }
  '/api/v1/runs/{run}/undo': {
    parameters: {
      query?: never
      header?: never
      path?: never
      cookie?: never
    }
    /**
     * Undo Effect
     * @description What undoing a run would change. Nothing is changed.
     */
    get: {
      parameters: {
        query?: never
        header?: never
        path: {
          /** @description The number of a run, or of another entry of the history. */
          run: number
        }
        cookie?: never
      }
      requestBody?: never
      responses: {
        /** @description OK */
        200: {
          headers: {
            [name: string]: unknown
          }
          content: {
            'application/json': components['schemas']['Effect']
          }
        }
        /** @description A parameter or the JSON is not what the call takes */
        400: {
          headers: {
            [name: string]: unknown
          }
          content: {
            'application/problem+json': components['schemas']['ProblemDetail']
          }
        }
        /** @description There is nothing of that name or number */
        404: {
          headers: {
            [name: string]: unknown
          }
          content: {
            'application/problem+json': components['schemas']['ProblemDetail']
          }
        }
        /** @description An error that was not foreseen; the service's log has more */
        500: {
          headers: {
            [name: string]: unknown
          }
          content: {
            'application/problem+json': components['schemas']['ProblemDetail']
          }
        }
        /** @description The catalogue cannot be used, mostly for the disk */
        503: {
          headers: {
            [name: string]: unknown
          }
          content: {
            'application/problem+json': components['schemas']['ProblemDetail']
          }
        }
      }
    }
    put?: never
    /**
     * Undo
     * @description Takes a run, or another entry of the history, back; it can be undone itself.
     */
    post: {
      parameters: {
        query?: never
        header?: never
        path: {
          /** @description The number of a run, or of another entry of the history. */
          run: number
        }
        cookie?: never
      }
      requestBody?: never
      responses: {
        /** @description OK */
        200: {
          headers: {
            [name: string]: unknown
          }
          content: {
            'application/json': components['schemas']['RunView']
          }
        }
        /** @description A parameter or the JSON is not what the call takes */
        400: {
          headers: {
            [name: string]: unknown
          }
          content: {
            'application/problem+json': components['schemas']['ProblemDetail']
          }
        }
        /** @description There is nothing of that name or number */
        404: {
          headers: {
            [name: string]: unknown
          }
          content: {
            'application/problem+json': components['schemas']['ProblemDetail']
          }
        }
        /** @description Something stands in the way: a run, a change by somebody else, rows stored otherwise */
        409: {
          headers: {
            [name: string]: unknown
          }
          content: {
            'application/problem+json': components['schemas']['ProblemDetail']
          }
        }
        /** @description An error that was not foreseen; the service's log has more */
        500: {
          headers: {
            [name: string]: unknown
          }
          content: {
            'application/problem+json': components['schemas']['ProblemDetail']
          }
        }
        /** @description The catalogue cannot be used, mostly for the disk */
        503: {
          headers: {
            [name: string]: unknown
          }
          content: {
            'application/problem+json': components['schemas']['ProblemDetail']
          }
        }
      }
    }
    delete?: never
    options?: never
    head?: never
    patch?: never
    trace?: never
  }
  '/api/v1/schedule': {
    parameters: {
      query?: never
      header?: never
      path?: never
      cookie?: never
    }
    /**
     * Schedule
     * @description When jobs run by themselves, each with its next times.
     */
    get: {
      parameters: {
        query?: {
          /** @description How many of the next times. */
          times?: number
        }
        header?: never
        path?: never
        cookie?: never
      }
      requestBody?: never
      responses: {
        /** @description OK */
        200: {
          headers: {
            [name: string]: unknown
          }
          content: {
            'application/json': components['schemas']['ScheduleView'][]
          }
        }
        /** @description A parameter or the JSON is not what the call takes */
        400: {
          headers: {
            [name: string]: unknown
          }
          content: {
            'application/problem+json': components['schemas']['ProblemDetail']
          }
        }
        /** @description An error that was not foreseen; the service's log has more */
        500: {
          headers: {
            [name: string]: unknown
          }
          content: {
            'application/problem+json': components['schemas']['ProblemDetail']
          }
        }
        /** @description The catalogue cannot be used, mostly for the disk */
        503: {
          headers: {
            [name: string]: unknown
          }
          content: {
            'application/problem+json': components['schemas']['ProblemDetail']
          }
        }
      }
    }
    put?: never
    post?: never
    delete?: never
    options?: never
    head?: never
    patch?: never
    trace?: never
  }
  '/api/v1/schemas/{name}.schema.json': {
    parameters: {
      query?: never
      header?: never
      path?: never
      cookie?: never
    }
    /**
     * Schema
     * @description The JSON Schema of job and dataset files, for editors.
     */
    get: {
      parameters: {
        query?: never
        header?: never
        path: {
          /** @description job, dataset or query. */
          name: string
        }
        cookie?: never
      }
      requestBody?: never
      responses: {
        /** @description OK */
        200: {
          headers: {
            [name: string]: unknown
          }
          content: {
            'application/schema+json': string
          }
        }
        /** @description A parameter or the JSON is not what the call takes */
        400: {
          headers: {
            [name: string]: unknown
          }
          content: {
            'application/problem+json': components['schemas']['ProblemDetail']
          }
        }
        /** @description There is nothing of that name or number */
        404: {
          headers: {
            [name: string]: unknown
          }
          content: {
            'application/problem+json': components['schemas']['ProblemDetail']
          }
        }
        /** @description An error that was not foreseen; the service's log has more */
        500: {
          headers: {
            [name: string]: unknown
          }
          content: {
            'application/problem+json': components['schemas']['ProblemDetail']
          }
        }
        /** @description The catalogue cannot be used, mostly for the disk */
        503: {
          headers: {
            [name: string]: unknown
          }
          content: {
            'application/problem+json': components['schemas']['ProblemDetail']
          }
        }
      }
    }
    put?: never
    post?: never
    delete?: never
    options?: never
    head?: never
    patch?: never
    trace?: never
  }
  '/api/v1/store': {
    parameters: {
      query?: never
      header?: never
      path?: never
      cookie?: never
    }
    /**
     * Store
     * @description Whether everything in the store is as it should be.
     */
    get: {
      parameters: {
        query?: never
        header?: never
        path?: never
        cookie?: never
      }
      requestBody?: never
      responses: {
        /** @description OK */
        200: {
          headers: {
            [name: string]: unknown
          }
          content: {
            'application/json': components['schemas']['StoreView']
          }
        }
        /** @description A parameter or the JSON is not what the call takes */
        400: {
          headers: {
            [name: string]: unknown
          }
          content: {
            'application/problem+json': components['schemas']['ProblemDetail']
          }
        }
        /** @description An error that was not foreseen; the service's log has more */
        500: {
          headers: {
            [name: string]: unknown
          }
          content: {
            'application/problem+json': components['schemas']['ProblemDetail']
          }
        }
        /** @description The catalogue cannot be used, mostly for the disk */
        503: {
          headers: {
            [name: string]: unknown
          }
          content: {
            'application/problem+json': components['schemas']['ProblemDetail']
          }
        }
      }
    }
    put?: never
    post?: never
    delete?: never
    options?: never
    head?: never
    patch?: never
    trace?: never
  }
  '/api/v1/store/verify': {
    parameters: {
      query?: never
      header?: never
      path?: never
      cookie?: never
    }
    get?: never
    put?: never
    /**
     * Verify
     * @description Reads the whole store and says what is missing, damaged or left over.
     */
    post: {
      parameters: {
        query?: never
        header?: never
        path?: never
        cookie?: never
      }
      requestBody: {
        content: {
          'application/json': components['schemas']['VerifyRequest']
        }
      }
      responses: {
        /** @description OK */
        200: {
          headers: {
            [name: string]: unknown
          }
          content: {
            'application/json': components['schemas']['Verified']
          }
        }
        /** @description A parameter or the JSON is not what the call takes */
        400: {
          headers: {
            [name: string]: unknown
          }
          content: {
            'application/problem+json': components['schemas']['ProblemDetail']
          }
        }
        /** @description Something stands in the way: a run, a change by somebody else, rows stored otherwise */
        409: {
          headers: {
            [name: string]: unknown
          }
          content: {
            'application/problem+json': components['schemas']['ProblemDetail']
          }
        }
        /** @description A definition file has mistakes */
        422: {
          headers: {
            [name: string]: unknown
          }
          content: {
            'application/problem+json': components['schemas']['ProblemDetail']
          }
        }
        /** @description An error that was not foreseen; the service's log has more */
        500: {
          headers: {
            [name: string]: unknown
          }
          content: {
            'application/problem+json': components['schemas']['ProblemDetail']
          }
        }
        /** @description The catalogue cannot be used, mostly for the disk */
        503: {
          headers: {
            [name: string]: unknown
          }
          content: {
            'application/problem+json': components['schemas']['ProblemDetail']
          }
        }
      }
    }
    delete?: never
    options?: never
    head?: never
    patch?: never
    trace?: never
  }
}
export type webhooks = Record<string, never>
export interface components {
  schemas: {
    AfterView: {
      action: string
      to: string
      words: string
    }
    ArrivalCell: {
      state: string
      by: components['schemas']['Instant']
      /** Format: int64 */
      files: number
      /** Format: int64 */
      rows: number
      /** Format: int64 */
      rejected: number
      says: string
      arrived: components['schemas']['ArrivedFile'][]
    }
    ArrivalSource: {
      name: string
      facts: {
        [key: string]: string
      }
      due: boolean
      cells: components['schemas']['ArrivalCell'][]
    }
    ArrivedFile: {
      name: string
      at: components['schemas']['Instant']
      became: string
      /** Format: int64 */
      run: number
      /** Format: int64 */
      rows: number
      /** Format: int64 */
      rejected: number
      says: string
    }
    BinView: {
      from: string
      to: string
      /** Format: int64 */
      rows: number
      where: string
    }
    Bounds: {
      /** Format: int32 */
      place: number
      /** Format: int64 */
      files: number
      /** Format: int64 */
      smallest: number
      /** Format: int64 */
      largest: number
      oldest: components['schemas']['Instant']
      newest: components['schemas']['Instant']
      firstCreated: components['schemas']['Instant']
      lastCreated: components['schemas']['Instant']
    }
    CalendarView: {
      job: string
      dataset: string
      declared: boolean
      words: string[]
      each: string
      zone: string
      periods: string[]
      sources: components['schemas']['ArrivalSource'][]
      counts: {
        [key: string]: number
      }
      astray: components['schemas']['ArrivedFile'][]
      /** Format: int64 */
      astrayFiles: number
      findings: boolean
      trouble: string
    }
    Called: {
      /** Format: int64 */
      number: number
    }
    Cell: {
      column: string
      type: string
      from: string
      read: string | null
      cleaned: string | null
      value: string | null
      code: string | null
      sentence: string | null
      rule: string
    }
    CellView: {
      column: string
      state: string
      header: string
      /** Format: int32 */
      position: number
      /** Format: int32 */
      usual: number
      looks: string
    }
    Change: {
      op?: string
      /** Format: int32 */
      place?: number
      key?: string
      value?: unknown
      /** Format: int32 */
      by?: number
    }
    /** @enum {string} */
    Change1: 'WRITTEN' | 'UNCHANGED' | 'REMOVED' | 'LEFT'
    Changed: {
      path: string
      change: components['schemas']['Change1']
      /** Format: int64 */
      rows: number
      /** Format: int64 */
      bytes: number
      checksum: string
    }
    CheckView: {
      job: string
      canRun: boolean
      clean: boolean
      problems: components['schemas']['Problem'][]
      warnings: string[]
      files: components['schemas']['CheckedFile'][]
    }
    CheckedFile: {
      path: string
      name: string
      /** Format: int64 */
      size: number
      code: string
      sentence: string
      cure: string
      /** Format: int64 */
      rows: number
      /** Format: int64 */
      rejected: number
      whole: boolean
      suspects: components['schemas']['SuspectView'][]
      notes: string[]
      after: components['schemas']['AfterView']
    }
    ColumnChoice: {
      name: string
      type: string
      required: boolean
      skip: boolean
    }
    ColumnDraft: {
      name: string
      from: string[]
      type: string
      mapping: string
      required: boolean
      why: string
      doubts: string[]
      samples: string[]
      /** Format: int64 */
      rows: number
      /** Format: int64 */
      empty: number
    }
    ColumnProfileView: {
      name: string
      type: string
      /** Format: int64 */
      rows: number
      /** Format: int64 */
      empty: number
      /** Format: int64 */
      distinct: number
      /** Format: double */
      distinctError: number
      smallest: string
      largest: string
      mean: number
      deviation: number
      quantiles: components['schemas']['QuantileView'][]
      histogram: components['schemas']['BinView'][]
      frequent: components['schemas']['FrequentView'][]
      text: components['schemas']['TextView']
      gaps: components['schemas']['GapsView']
      remarks: components['schemas']['RemarkView'][]
    }
    ColumnView: {
      name: string
      type: string
      required: boolean
      about: string
    }
    CommitView: {
      id: string
      uncommitted: string[]
    }
    Comparison: {
      run: components['schemas']['RunView']
      before: components['schemas']['RunView']
      files: components['schemas']['FileDifference'][]
      /** Format: int64 */
      same: number
      /** Format: int64 */
      unnamed: number
      /** Format: int64 */
      untold: number
    }
    CopyRequest: {
      name?: string
      values?: {
        [key: string]: string
      }
    }
    CountGroup: {
      values: components['schemas']['Value'][]
      /** Format: int64 */
      rows: number
      measures: components['schemas']['Value'][]
    }
    CountRest: {
      /** Format: int32 */
      groups: number
      /** Format: int64 */
      rows: number
      measures: components['schemas']['Value'][]
    }
    CountsView: {
      dataset: string
      by: string[]
      measures: string[]
      /** Format: int64 */
      total: number
      totals: components['schemas']['Value'][]
      groups: components['schemas']['CountGroup'][]
      rest: components['schemas']['CountRest']
      hints: string[]
      leftOut: string[]
    }
    DatasetCounts: {
      /** Format: int64 */
      rows: number
      /** Format: int64 */
      partsRows: number
      /** Format: int64 */
      parts: number
      holds: boolean
    }
    DatasetDetail: {
      name: string
      about: string
      /** Format: int64 */
      rows: number
      /** Format: int64 */
      parts: number
      folder: string
      columns: components['schemas']['ColumnView'][]
      jobs: components['schemas']['JobShare'][]
      text: string
      version: string
    }
    DatasetDraft: {
      name: string
      key: string[]
      keyWhy: string
      text: string
    }
    DatasetView: {
      name: string
      about: string
      /** Format: int64 */
      rows: number
      /** Format: int64 */
      parts: number
      problems: components['schemas']['Problem'][]
    }
    DefinitionChange: {
      file: string
      kind: string
      same: boolean
      before: components['schemas']['DefinitionSide']
      now: components['schemas']['DefinitionSide']
      changes: string[]
    }
    DefinitionChanges: {
      before: components['schemas']['DefinitionMoment']
      now: components['schemas']['DefinitionMoment']
      files: components['schemas']['DefinitionChange'][]
      values: components['schemas']['ValueChange'][]
    }
    DefinitionMoment: {
      /** Format: int64 */
      run: number
      commit: components['schemas']['CommitView']
    }
    DefinitionSide: {
      version: string
      text: string
      trouble: string
    }
    DeliveryDetail: {
      delivery: components['schemas']['DeliveryView']
      history: components['schemas']['HandoverView'][]
      products: components['schemas']['ProductView'][]
    }
    DeliveryView: {
      name: string
      about: string
      to: string
      format: string
      declared: boolean
      eachRun: boolean
      /** Format: int64 */
      files: number
      last: components['schemas']['HandoverView']
      nextTry: components['schemas']['Instant']
    }
    Difference: {
      column: string
      found: string
      proposal: string
    }
    DismissRequest: {
      file?: string
      why?: string
    }
    Draft: {
      jobs: components['schemas']['JobDraft'][]
      datasets: components['schemas']['DatasetDraft'][]
      notTaken: components['schemas']['NotTaken'][]
      whole: boolean
      looked: string
    }
    Drift: {
      job: string
      into: string
      /** Format: int32 */
      files: number
      /** Format: int64 */
      rows: number
      differences: components['schemas']['Difference'][]
    }
    EditRequest: {
      text?: string
      changes?: components['schemas']['KeyChange'][]
      set?: {
        [key: string]: string
      }
    }
    EditView: {
      text: string
      savedVersion: string
      saved: string
      sections: {
        [key: string]: unknown
      }
      problems: components['schemas']['Problem'][]
      explanation: components['schemas']['Explanation']
    }
    Effect: {
      /** Format: int64 */
      out: number
      /** Format: int64 */
      back: number
      /** Format: int64 */
      files: number
      notes: string[]
      obstacles: string[]
    }
    Evidence: {
      what: string
      value: string
      why: string
    }
    Explanation: {
      find: string[]
      read: string[]
      map: string[]
      keep: string[]
      load: string[]
      rejects: string[]
      after: string[]
      when: string[]
      due: string[]
    }
    Extra: {
      name: string
      /** Format: int32 */
      position: number
      passed: boolean
    }
    FaultView: {
      code: string
      /** Format: int64 */
      rows: number
      first: string
    }
    FieldView: {
      name: string
      type: string
    }
    FileColumnView: {
      profile: components['schemas']['ColumnProfileView']
      /** Format: int64 */
      missing: number
      rejected: components['schemas']['FaultView'][]
    }
    FileCounts: {
      noun: string
      /** Format: int64 */
      found: number
      /** Format: int64 */
      loaded: number
      /** Format: int64 */
      replaced: number
      /** Format: int64 */
      unchanged: number
      /** Format: int64 */
      rejected: number
      /** Format: int64 */
      waiting: number
      /** Format: int64 */
      notReached: number
      holds: boolean
    }
    FileDifference: {
      name: string
      kind: string
      before: components['schemas']['FileSide']
      now: components['schemas']['FileSide']
    }
    FileIn: {
      name: string
      path: string
      /** Format: int64 */
      size: number
      modified: components['schemas']['Instant']
    }
    FileInWork: {
      name: string
      /** Format: int64 */
      bytes: number
      /** Format: int64 */
      size: number
      /** Format: int64 */
      rows: number
    }
    FileSide: {
      outcome: string
      /** Format: int64 */
      loaded: number
      /** Format: int64 */
      rejected: number
      sentence: string
    }
    FileView: {
      /** Format: int32 */
      ordinal: number
      /** Format: int32 */
      place: number
      source: string
      path: string
      name: string
      outcome: string
      /** Format: int64 */
      size: number
      /** Format: int64 */
      read: number
      /** Format: int64 */
      loaded: number
      /** Format: int64 */
      aside: number
      /** Format: int64 */
      repeated: number
      /** Format: int64 */
      rejected: number
      code: string
      sentence: string
      /** Format: int64 */
      sinceRun: number
      notes: string[]
      after: components['schemas']['AfterView']
      /** Format: int64 */
      millis: number
    }
    FilesProfileView: {
      job: string
      /** Format: int32 */
      files: number
      /** Format: int64 */
      rows: number
      /** Format: int64 */
      aside: number
      /** Format: int64 */
      rejected: number
      columns: components['schemas']['FileColumnView'][]
      whole: components['schemas']['FaultView'][]
      notes: string[]
    }
    FindRequest: {
      text?: string
      changes?: components['schemas']['Change'][]
      set?: {
        [key: string]: string
      }
      fresh?: boolean
      /** Format: int32 */
      place?: number
      which?: string
      search?: string
      sort?: string
      descending?: boolean
      /** Format: int32 */
      offset?: number
      /** Format: int32 */
      limit?: number
    }
    FindView: {
      text: string
      version: string
      problems: components['schemas']['Problem'][]
      places: {
        [key: string]: unknown
      }[]
      values: components['schemas']['Used'][]
      troubles: components['schemas']['Trouble'][]
      counts: components['schemas']['RuleCounts'][]
      bounds: components['schemas']['Bounds'][]
      /** Format: int32 */
      seen: number
      /** Format: int32 */
      taken: number
      /** Format: int32 */
      waiting: number
      /** Format: int32 */
      skipped: number
      nearly: string[]
      /** Format: int32 */
      matching: number
      files: components['schemas']['FoundFile'][]
      listed: components['schemas']['Instant']
    }
    FitView: {
      job: string
      canRun: boolean
      clean: boolean
      problems: components['schemas']['Problem'][]
      columns: string[]
      /** Format: int32 */
      files: number
      /** Format: int32 */
      waiting: number
      groups: components['schemas']['GroupView'][]
    }
    Fix: {
      file: string
      version: string
      says: string
      before: string
      after: string
      text: string
      level: string
      /** Format: int64 */
      count: number
      /** Format: int64 */
      of: number
    }
    Fixes: {
      level: string
      /** Format: int64 */
      rejected: number
      /** Format: int64 */
      passing: number
      fixes: components['schemas']['Fix'][]
    }
    FolderContent: {
      path: string
      above: string
      folders: components['schemas']['SubFolder'][]
      files: components['schemas']['FileIn'][]
      /** Format: int64 */
      more: number
    }
    FoundFile: {
      /** Format: int32 */
      place: number
      path: string
      relative: string
      name: string
      /** Format: int64 */
      size: number
      modified: components['schemas']['Instant']
      created: components['schemas']['Instant']
      taken: boolean
      rule: string
      facts: {
        [key: string]: string
      }
      waiting: string
      status: string
      /** Format: int64 */
      run: number
    }
    FrequentView: {
      value: string
      /** Format: int64 */
      rows: number
      /** Format: int64 */
      error: number
      where: string
    }
    GapView: {
      from: string
      to: string
      /** Format: int64 */
      days: number
    }
    GapsView: {
      /** Format: int64 */
      days: number
      /** Format: int64 */
      usual: number
      longest: components['schemas']['GapView'][]
    }
    GroupView: {
      verdict: string
      /** Format: int32 */
      files: number
      names: components['schemas']['Named'][]
      code: string
      sentence: string
      header: string[]
      cells: components['schemas']['CellView'][]
      extra: components['schemas']['Extra'][]
      /** Format: int64 */
      rows: number
      /** Format: int64 */
      rejected: number
      changes: string[]
    }
    HandoverView: {
      /** Format: int64 */
      number: number
      /** Format: int64 */
      run: number
      state: string
      queuedAt: components['schemas']['Instant']
      endedAt: components['schemas']['Instant']
      /** Format: int64 */
      rows: number
      /** Format: int64 */
      bytes: number
      /** Format: int32 */
      written: number
      /** Format: int32 */
      unchanged: number
      /** Format: int32 */
      removed: number
      failure: string
      notes: string[]
      changed: components['schemas']['Changed'][]
    }
    /**
     * Format: date-time
     * @example 2022-03-10T16:15:50Z
     */
    Instant: string
    JobDetail: {
      name: string
      about: string
      into: string
      version: string
      text: string
      problems: components['schemas']['Problem'][]
      values: components['schemas']['Used'][]
      find: components['schemas']['PlaceView'][]
      explanation: components['schemas']['Explanation']
      lastRun: components['schemas']['RunView']
      /** Format: int64 */
      running: number
    }
    JobDraft: {
      name: string
      into: string
      folder: string
      /** Format: int32 */
      files: number
      names: string[]
      head: string[]
      finding: components['schemas']['Evidence'][]
      reading: components['schemas']['Evidence'][]
      columns: components['schemas']['ColumnDraft'][]
      doubts: string[]
      whole: boolean
      /** Format: int64 */
      rows: number
      /** Format: int64 */
      rejected: number
      rejects: string[]
      text: string
    }
    JobShare: {
      job: string
      /** Format: int64 */
      rows: number
      /** Format: int64 */
      parts: number
    }
    JobView: {
      name: string
      about: string
      into: string
      problems: components['schemas']['Problem'][]
      lastRun: components['schemas']['RunView']
      /** Format: int64 */
      running: number
      /** Format: int64 */
      openRows: number
      /** Format: int64 */
      openFiles: number
    }
    KeyChange: {
      path: string[]
      value: unknown
    }
    LabelRequest: {
      label?: string
    }
    LedgerView: {
      source: string
      /** Format: int32 */
      generation: number
      path: string
      outcome: string
      /** Format: int64 */
      run: number
      /** Format: int64 */
      rejected: number
      code: string
      sentence: string
      inDataset: boolean
      current: boolean
      /** Format: int64 */
      rows: number
      kept: boolean
      /** Format: int64 */
      repairs: number
      movedTo: string
      /** Format: int64 */
      deletedBy: number
      /** Format: int64 */
      size: number
      modified: components['schemas']['Instant']
      hash: string
    }
    Left: {
      /** Format: int64 */
      run: number
      job: string
      file: string
      path: string
      /** Format: int64 */
      line: number
      rule: string
      original: string
      /** Format: int64 */
      row: number
      fields: string[]
      source: string
      repeats: string
    }
    Line: {
      /** Format: int64 */
      number: number
      text: string
      cut: boolean
      cells: string[]
    }
    /** @enum {string} */
    LogEvent: 'started' | 'found' | 'file' | 'moved' | 'said' | 'note' | 'ended'
    /** @enum {string} */
    LogLevel: 'info' | 'warn' | 'error'
    LogLine: {
      at: components['schemas']['Instant']
      level: components['schemas']['LogLevel']
      event: components['schemas']['LogEvent']
      file: string
      path: string
      outcome: string
      /** Format: int64 */
      files: number
      /** Format: int64 */
      bytes: number
      rows: components['schemas']['LogRows']
      code: string
      /** Format: int64 */
      millis: number
      text: string
    }
    LogPiece: {
      lines: components['schemas']['LogLine'][]
      /** Format: int64 */
      next: number
      more: boolean
      kept: boolean
    }
    LogRows: {
      /** Format: int64 */
      read: number
      /** Format: int64 */
      loaded: number
      /** Format: int64 */
      aside: number
      /** Format: int64 */
      repeated: number
      /** Format: int64 */
      rejected: number
    }
    MessageView: {
      /** Format: int64 */
      number: number
      id: string
      job: string
      event: string
      /** Format: int64 */
      run: number
      account: string
      to: string
      subject: string
      digest: boolean
      state: string
      madeAt: components['schemas']['Instant']
      nextAt: components['schemas']['Instant']
      endedAt: components['schemas']['Instant']
      /** Format: int32 */
      tries: number
      failure: string
      text: string
    }
    NameRequest: {
      name?: string
    }
    Named: {
      /** Format: int32 */
      place: number
      relative: string
      name: string
      /** Format: int64 */
      rows: number
      /** Format: int64 */
      rejected: number
    }
    NewDraft: {
      paths: string[]
      into: string
      name: string
      thorough: boolean
      comments: boolean
      reading: components['schemas']['ReadingChoice']
      columns: {
        [key: string]: components['schemas']['ColumnChoice']
      }
    }
    NotTaken: {
      file: string
      why: string
    }
    PartView: {
      file: string
      /** Format: int64 */
      from: number
      /** Format: int64 */
      to: number
      without: number[]
      /** Format: int64 */
      rows: number
      job: string
      source: string
      /** Format: int64 */
      run: number
    }
    PauseRequest: {
      until?: components['schemas']['Instant']
      because?: string
    }
    PauseView: {
      since: components['schemas']['Instant']
      until: components['schemas']['Instant']
      because: string
    }
    Peek: {
      lines: components['schemas']['Line'][]
      packed: string | null
      lineEnds: string
      more: boolean
      kind: string
      encoding: string
      merged: string[]
    }
    PeekView: {
      path: string
      /** Format: int64 */
      size: number
      encoding: string
      content: components['schemas']['Peek']
    }
    PlaceView: {
      folder: string
      /** Format: int32 */
      depth: number
      rules: string[]
    }
    Problem: {
      file: string
      /** Format: int32 */
      line: number
      /** Format: int32 */
      column: number
      what: string
      hint: string
    }
    ProductView: {
      path: string
      /** Format: int64 */
      rows: number
      /** Format: int64 */
      bytes: number
      modified: components['schemas']['Instant']
      checksum: string
    }
    ProfileView: {
      dataset: string
      /** Format: int64 */
      rows: number
      columns: components['schemas']['ColumnProfileView'][]
      leftOut: string[]
    }
    Progress: {
      /** Format: int64 */
      run: number
      job: string
      state: string
      /** Format: int64 */
      found: number
      /** Format: int64 */
      done: number
      /** Format: int64 */
      loaded: number
      /** Format: int64 */
      replaced: number
      /** Format: int64 */
      unchanged: number
      /** Format: int64 */
      rejected: number
      /** Format: int64 */
      waiting: number
      /** Format: int64 */
      bytes: number
      /** Format: int64 */
      ofBytes: number
      /** Format: int64 */
      rows: number
      /** Format: int64 */
      rowsRejected: number
      inWork: components['schemas']['FileInWork'][]
      trouble: string
    }
    Proposed: {
      text: string
      notes: string[]
    }
    QuantileView: {
      /** Format: double */
      share: number
      value: string
      /** Format: double */
      error: number
    }
    QueryView: {
      name: string
      about: string
      dataset: string
      where: string[]
      columns: string[]
      sort: string[]
      by: string[]
      measures: string[]
      /** Format: int32 */
      top: number
      version: string
      problems: components['schemas']['Problem'][]
    }
    ReadingChoice: {
      separator: string
      encoding: string
      header: boolean
      /** Format: int32 */
      linesAbove: number
    }
    ReasonMeaning: {
      code: string
      level: string
      cause: string
      cure: string
    }
    ReasonView: {
      job: string
      into: string
      /** Format: int64 */
      run: number
      code: string
      level: string
      column: string
      /** Format: int64 */
      count: number
      /** Format: int64 */
      files: number
      cause: string
      cure: string
      gone: string[]
      samples: components['schemas']['SampleView'][]
    }
    Reject: {
      /** Format: int64 */
      run: number
      job: string
      file: string
      path: string
      /** Format: int64 */
      line: number
      fault: string
      column: string
      value: string
      code: string
      reason: string
      original: string
      /** Format: int64 */
      row: number
      fields: string[]
      source: string
    }
    Rejection: {
      code: string
      sentence: string
      cure: string
    }
    RemarkView: {
      what: string
      /** Format: int64 */
      rows: number
      where: string
    }
    RemovedView: {
      /** Format: int64 */
      entry: number
      /** Format: int64 */
      rows: number
      /** Format: int64 */
      parts: number
      notes: string[]
    }
    Renamed: {
      from: string
      name: string
      /** Format: int64 */
      runs: number
      /** Format: int64 */
      files: number
    }
    ReportView: {
      run: components['schemas']['RunView']
      files: components['schemas']['FileView'][]
      reasons: components['schemas']['ReasonView'][]
    }
    RetryRequest: {
      set?: {
        [key: string]: string
      }
    }
    RowCounts: {
      /** Format: int64 */
      read: number
      /** Format: int64 */
      loaded: number
      /** Format: int64 */
      aside: number
      /** Format: int64 */
      repeated: number
      /** Format: int64 */
      rejected: number
      holds: boolean
    }
    RowFault: {
      column: string
      /** Format: int32 */
      cell: number
      value: string
      code: string
      sentence: string
    }
    RowsQuestion: {
      file: string
      stage: string
      /** Format: int64 */
      from: number
      /** Format: int32 */
      fileNumber: number
      /** Format: int64 */
      line: number
      /** Format: int32 */
      limit: number
      rejected: boolean
      where: string
      sort: string
      whole: boolean
      text: string
      datasetText: string
      set: {
        [key: string]: string
      }
    }
    RowsView: {
      dataset: string
      /** Format: int64 */
      total: number
      /** Format: int64 */
      offset: number
      fields: components['schemas']['FieldView'][]
      rows: components['schemas']['Value'][][]
      hints: string[]
      leftOut: string[]
    }
    RuleCount: {
      rule: string
      /** Format: int64 */
      rows: number
      /** Format: int64 */
      files: number
    }
    RuleCounts: {
      /** Format: int32 */
      place: number
      folder: string
      /** Format: int64 */
      seen: number
      steps: components['schemas']['Step'][]
    }
    RunEvent: {
      kind: string
      progress: components['schemas']['Progress']
      run: components['schemas']['RunView']
    }
    RunRequest: {
      again?: boolean
      files?: string[]
      set?: {
        [key: string]: string
      }
      applyAfter?: boolean
      label?: string
    }
    RunView: {
      /** Format: int64 */
      run: number
      kind: string
      /** Format: int64 */
      ofRun: number
      /** Format: int64 */
      undoneBy: number
      job: string
      into: string
      state: string
      again: boolean
      values: components['schemas']['Used'][]
      queuedAt: components['schemas']['Instant']
      startedAt: components['schemas']['Instant']
      endedAt: components['schemas']['Instant']
      /** Format: double */
      seconds: number
      failure: string
      notes: string[]
      files: components['schemas']['FileCounts']
      rows: components['schemas']['RowCounts']
      dataset: components['schemas']['DatasetCounts']
      holds: boolean
      jobVersion: string
      datasetVersion: string
      rejectsFile: string
      asideFile: string
      start: components['schemas']['StartView']
      label: string
      /** Format: int32 */
      attempt: number
      againAt: components['schemas']['Instant']
      commit: components['schemas']['CommitView']
    }
    SampleView: {
      /** Format: int64 */
      run: number
      file: string
      path: string
      /** Format: int64 */
      line: number
      value: string
      sentence: string
    }
    SaveDatasetRequest: {
      text?: string
      version?: string
    }
    SaveQueryRequest: {
      about?: string
      dataset?: string
      where?: string[]
      columns?: string[]
      sort?: string[]
      by?: string[]
      measures?: string[]
      /** Format: int32 */
      top?: number
      version?: string
    }
    SaveRequest: {
      text?: string
      version?: string
      set?: {
        [key: string]: string
      }
    }
    ScheduleView: {
      job: string
      declared: boolean
      words: string[]
      starts: string[]
      zone: string
      next: string[]
      arrival: boolean
      after: string[]
      pause: components['schemas']['PauseView']
      troubles: string[]
    }
    SendRequest: {
      to?: string
      replace?: boolean
    }
    SentAgain: {
      /** Format: int32 */
      messages: number
    }
    SentView: {
      to: string
      /** Format: int64 */
      rows: number
      /** Format: int64 */
      bytes: number
    }
    SheetRequest: {
      book?: string
    }
    SplitFile: {
      path: string
      /** Format: int64 */
      rows: number
    }
    StageColumn: {
      name: string
      type: string
      from: string
    }
    StageRowView: {
      file: string
      /** Format: int64 */
      row: number
      /** Format: int64 */
      line: number
      place: string
      outcome: string
      cells: string[]
      faults: components['schemas']['RowFault'][]
      rule: string
    }
    StageRowsView: {
      job: string
      file: string
      stage: string
      rejection: components['schemas']['Rejection']
      columns: components['schemas']['StageColumn'][]
      rows: components['schemas']['StageRowView'][]
      /** Format: int64 */
      next: number
      /** Format: int32 */
      nextFile: number
      /** Format: int64 */
      looked: number
      whole: boolean
      /** Format: int64 */
      found: number
      /** Format: int64 */
      untold: number
      /** Format: int64 */
      total: number
      busy: boolean
      notes: string[]
    }
    StartView: {
      by: string
      due: components['schemas']['Instant']
      /** Format: int64 */
      missed: number
      /** Format: int64 */
      run: number
      /** Format: int64 */
      again: number
    }
    Step: {
      /** @enum {string} */
      key: 'take' | 'skip' | 'size' | 'modified' | 'created' | 'rank' | ''
      rule: string
      /** Format: int64 */
      removed: number
      /** Format: int64 */
      remain: number
      last: boolean
    }
    StoreView: {
      problems: string[]
      deliveries: string[]
      schedules: string[]
      messages: string[]
    }
    SubFolder: {
      name: string
      path: string
      /** Format: int64 */
      files: number
    }
    SuspectView: {
      column: string
      code: string
      /** Format: int64 */
      rows: number
      sentence: string
      cure: string
      /** Format: int64 */
      line: number
    }
    TextView: {
      /** Format: int32 */
      shortest: number
      shortestValue: string
      /** Format: int32 */
      longest: number
      longestValue: string
      /** Format: int64 */
      strayRows: number
      /** Format: int64 */
      controlRows: number
    }
    TimesRequest: {
      text?: string
    }
    Trace: {
      path: string
      /** Format: int64 */
      line: number
      /** Format: int64 */
      row: number
      original: string
      cells: components['schemas']['Cell'][]
      leftBy: string | null
      passes: boolean
      readAnew: boolean
    }
    Trend: {
      job: string
      points: components['schemas']['TrendPoint'][]
      /** Format: int64 */
      idle: number
    }
    TrendPoint: {
      /** Format: int64 */
      run: number
      startedAt: components['schemas']['Instant']
      state: string
      /** Format: double */
      seconds: number
      /** Format: int64 */
      filesLoaded: number
      /** Format: int64 */
      filesRejected: number
      /** Format: int64 */
      rowsLoaded: number
      /** Format: int64 */
      rowsRejected: number
      label: string
    }
    TrialMessage: {
      account: string
      to: string
    }
    Trouble: {
      /** Format: int32 */
      place: number
      grave: boolean
      what: string
      hint: string
    }
    Used: {
      name: string
      value: string
      from: string
    }
    /** @description A number, true or false; everything else as text. null where the row has no value. */
    Value: ((string | number | boolean) | null) | string | number | boolean
    ValueChange: {
      name: string
      before: components['schemas']['Used']
      now: components['schemas']['Used']
    }
    Verified: {
      /** Format: int64 */
      arrivals: number
      /** Format: int64 */
      parts: number
      unknown: string[]
      missing: string[]
      differing: string[]
      unsettled: string[]
      /** Format: int64 */
      takenIn: number
      /** Format: int64 */
      corrected: number
      problems: string[]
    }
    VerifyRequest: {
      rebuild?: boolean
    }
    /** @description A problem, as RFC 9457 has it */
    ProblemDetail: {
      /** @description The kind of problem, as a URN that stays the same */
      type: string
      /** @description The kind in words */
      title: string
      status: number
      /** @description What is wrong here */
      detail: string
      /** @description What to do */
      hint: string
      /** @description The mistakes of a definition file, with their places */
      problems: components['schemas']['Problem'][]
      run: number
    }
  }
  responses: never
  parameters: never
  requestBodies: never
  headers: never
  pathItems: never
}
export type $defs = Record<string, never>
export type operations = Record<string, never>
