/**
 * Folders and files on other machines, as paths like all others: {@code sftp://account/in/a.csv} and
 * {@code s3://account/bucket/in/a.csv}. Whatever looks at files by {@link java.nio.file.Files} works with them; what
 * reads one gets a copy of it, which lies in the store for a while.
 *
 * <p>How a protocol is spoken, whoever makes the {@link dev.hapster.core.remote.Remotes} knows.
 */
package dev.hapster.core.remote;
