/**
 * Bytes before anybody asks what they say: unpacked, out of archives, in another encoding, without their last lines,
 * checked to be UTF-8.
 */
package dev.hapster.core.read.bytes;
