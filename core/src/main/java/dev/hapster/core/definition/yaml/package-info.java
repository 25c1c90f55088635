/** YAML as people write it, read so that every mistake is reported with its place, all of them at once. */
package dev.hapster.core.definition.yaml;
