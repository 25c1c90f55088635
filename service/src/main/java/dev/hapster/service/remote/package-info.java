/** Speaks with other machines: SFTP (draft-ietf-secsh-filexfer, version 3 and later) and the S3 API. */
package dev.hapster.service.remote;
