export interface paths {
  '/api/v1/datasets': {
    parameters: {
      query?: never
      header?: never
      path?: never
      cookie?: never
    }
    /** Datasets */
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
    /** Dataset */
    get: {
      parameters: {
        query?: never
        header?: never
        path: {
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
      }
    }
    /** Save */
    put: {
      parameters: {
        query?: never
        header?: never
        path: {
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
        /** @description Bad Request */
        400: {
          headers: {
            [name: string]: unknown
          }
          content?: never
        }
      }
    }
    post?: never
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
    /** Counts */
    get: {
      parameters: {
        query?: {
          by?: string[]
          where?: string[]
        }
        header?: never
        path: {
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
  '/api/v1/datasets/{dataset}/export': {
    parameters: {
      query?: never
      header?: never
      path?: never
      cookie?: never
    }
    /** Export */
    get: {
      parameters: {
        query?: {
          as?: string
          origins?: boolean
        }
        header?: never
        path: {
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
    /** Removal */
    get: {
      parameters: {
        query?: {
          file?: string
          job?: string
          run?: number
        }
        header?: never
        path: {
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
  '/api/v1/datasets/{dataset}/rows': {
    parameters: {
      query?: never
      header?: never
      path?: never
      cookie?: never
    }
    /** Rows */
    get: {
      parameters: {
        query?: {
          limit?: number
          offset?: number
          sort?: string[]
          where?: string[]
        }
        header?: never
        path: {
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
      }
    }
    put?: never
    post?: never
    /** Remove */
    delete: {
      parameters: {
        query?: {
          file?: string
          job?: string
          run?: number
        }
        header?: never
        path: {
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
      }
    }
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
    /** Folders */
    get: {
      parameters: {
        query?: {
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
    /** Jobs */
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
    /** Job */
    get: {
      parameters: {
        query?: {
          set?: string[]
        }
        header?: never
        path: {
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
      }
    }
    /** Save */
    put: {
      parameters: {
        query?: never
        header?: never
        path: {
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
        /** @description Bad Request */
        400: {
          headers: {
            [name: string]: unknown
          }
          content?: never
        }
      }
    }
    post?: never
    delete?: never
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
    /** Arrivals */
    get: {
      parameters: {
        query?: {
          source?: string
        }
        header?: never
        path: {
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
    /** Check */
    post: {
      parameters: {
        query?: never
        header?: never
        path: {
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
        /** @description Bad Request */
        400: {
          headers: {
            [name: string]: unknown
          }
          content?: never
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
    /** Copy */
    post: {
      parameters: {
        query?: never
        header?: never
        path: {
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
        /** @description Bad Request */
        400: {
          headers: {
            [name: string]: unknown
          }
          content?: never
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
    /** Dismiss */
    post: {
      parameters: {
        query?: never
        header?: never
        path: {
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
        /** @description Bad Request */
        400: {
          headers: {
            [name: string]: unknown
          }
          content?: never
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
    /** Find */
    post: {
      parameters: {
        query?: never
        header?: never
        path: {
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
        /** @description Bad Request */
        400: {
          headers: {
            [name: string]: unknown
          }
          content?: never
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
    /** Fit */
    get: {
      parameters: {
        query?: {
          set?: string[]
        }
        header?: never
        path: {
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
    /** Ledger */
    get: {
      parameters: {
        query?: never
        header?: never
        path: {
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
    /** Peek */
    get: {
      parameters: {
        query?: {
          count?: number
          file?: string
          from?: number
        }
        header?: never
        path: {
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
  '/api/v1/jobs/{job}/runs': {
    parameters: {
      query?: never
      header?: never
      path?: never
      cookie?: never
    }
    get?: never
    put?: never
    /** Run */
    post: {
      parameters: {
        query?: never
        header?: never
        path: {
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
        /** @description Bad Request */
        400: {
          headers: {
            [name: string]: unknown
          }
          content?: never
        }
      }
    }
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
    /** Trial */
    post: {
      parameters: {
        query?: never
        header?: never
        path: {
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
        /** @description Bad Request */
        400: {
          headers: {
            [name: string]: unknown
          }
          content?: never
        }
      }
    }
    delete?: never
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
    /** Reasons */
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
    /** Open */
    get: {
      parameters: {
        query?: {
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
    /** Mends */
    get: {
      parameters: {
        query?: {
          code?: string
          column?: string
        }
        header?: never
        path: {
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
            'application/json': components['schemas']['Fix'][]
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
    /** Trace */
    get: {
      parameters: {
        query?: {
          path?: string
          row?: number
        }
        header?: never
        path: {
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
    /** Runs */
    get: {
      parameters: {
        query?: {
          job?: string
          limit?: number
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
    /** Run */
    get: {
      parameters: {
        query?: never
        header?: never
        path: {
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
    /** Aside */
    get: {
      parameters: {
        query?: never
        header?: never
        path: {
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
    /** Aside Export */
    get: {
      parameters: {
        query?: {
          as?: string
        }
        header?: never
        path: {
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
    /** Aside Rows */
    get: {
      parameters: {
        query?: {
          limit?: number
          offset?: number
          path?: string
          rule?: string
        }
        header?: never
        path: {
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
    /** Cancel */
    post: {
      parameters: {
        query?: never
        header?: never
        path: {
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
    /** Comparison */
    get: {
      parameters: {
        query?: never
        header?: never
        path: {
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
    /** Events */
    get: {
      parameters: {
        query?: never
        header?: never
        path: {
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
    /** Files */
    get: {
      parameters: {
        query?: never
        header?: never
        path: {
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
    /** Reasons */
    get: {
      parameters: {
        query?: never
        header?: never
        path: {
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
    /** Rejects File */
    get: {
      parameters: {
        query?: never
        header?: never
        path: {
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
    /** Rejects Export */
    get: {
      parameters: {
        query?: {
          as?: string
        }
        header?: never
        path: {
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
    /** Rejected Rows */
    get: {
      parameters: {
        query?: {
          code?: string
          column?: string
          limit?: number
          offset?: number
          path?: string
        }
        header?: never
        path: {
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
    /** Retry */
    post: {
      parameters: {
        query?: never
        header?: never
        path: {
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
        /** @description Bad Request */
        400: {
          headers: {
            [name: string]: unknown
          }
          content?: never
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
    /** Undo Effect */
    get: {
      parameters: {
        query?: never
        header?: never
        path: {
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
      }
    }
    put?: never
    /** Undo */
    post: {
      parameters: {
        query?: never
        header?: never
        path: {
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
      }
    }
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
    /** Schema */
    get: {
      parameters: {
        query?: never
        header?: never
        path: {
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
    /** Store */
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
    /** Verify */
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
        /** @description Bad Request */
        400: {
          headers: {
            [name: string]: unknown
          }
          content?: never
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
      notes: string[]
      after: components['schemas']['AfterView']
    }
    ColumnView: {
      name: string
      type: string
      required: boolean
      about: string
    }
    Comparison: {
      run: components['schemas']['RunView']
      before: components['schemas']['RunView']
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
    }
    CountsView: {
      dataset: string
      by: string[]
      /** Format: int64 */
      total: number
      groups: components['schemas']['CountGroup'][]
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
    DatasetView: {
      name: string
      about: string
      /** Format: int64 */
      rows: number
      /** Format: int64 */
      parts: number
      problems: components['schemas']['Problem'][]
    }
    DismissRequest: {
      file?: string
      why?: string
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
    Explanation: {
      find: string[]
      read: string[]
      map: string[]
      keep: string[]
      load: string[]
      rejects: string[]
      after: string[]
    }
    Extra: {
      name: string
      /** Format: int32 */
      position: number
      passed: boolean
    }
    FieldView: {
      name: string
      type: string
    }
    FileCounts: {
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
    FileInWork: {
      name: string
      /** Format: int64 */
      bytes: number
      /** Format: int64 */
      size: number
      /** Format: int64 */
      rows: number
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
      /** Format: int64 */
      rows: number
      /** Format: int64 */
      of: number
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
    }
    Named: {
      /** Format: int32 */
      place: number
      relative: string
      name: string
    }
    Peek: {
      lines: components['schemas']['Line'][]
      packed: string | null
      lineEnds: string
      more: boolean
      kind: string
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
    RemovedView: {
      /** Format: int64 */
      entry: number
      /** Format: int64 */
      rows: number
      /** Format: int64 */
      parts: number
      notes: string[]
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
    RowsView: {
      dataset: string
      /** Format: int64 */
      total: number
      /** Format: int64 */
      offset: number
      fields: components['schemas']['FieldView'][]
      rows: components['schemas']['Value'][][]
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
    SaveRequest: {
      text?: string
      version?: string
      set?: {
        [key: string]: string
      }
    }
    Step: {
      key: string
      rule: string
      /** Format: int64 */
      removed: number
      /** Format: int64 */
      remain: number
      last: boolean
    }
    StoreView: {
      problems: string[]
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
  }
  responses: never
  parameters: never
  requestBodies: never
  headers: never
  pathItems: never
}
export type $defs = Record<string, never>
export type operations = Record<string, never>
