package dev.hapster.core.expression;

/**
 * A part of an expression, ready to be evaluated row after row.
 *
 * <p>Values are {@code String}, {@code Long}, {@code BigDecimal} (exact), {@code Double} (binary), {@code Boolean},
 * {@code Instant}, {@code Duration}, {@code List}, {@code Map}; null is nothing.
 */
interface Step {
    Object of(Frame frame) throws FailedException;
}
