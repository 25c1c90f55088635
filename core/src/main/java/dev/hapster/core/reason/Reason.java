package dev.hapster.core.reason;

import java.util.Objects;

/**
 * One reject: its stable code and a sentence for the person who must act.
 *
 * @param code which kind it is
 * @param sentence what is wrong here, with the value or names concerned; no full stop at its end
 */
public record Reason(ReasonCode code, String sentence) {
    public Reason {
        Objects.requireNonNull(code);
        Objects.requireNonNull(sentence);
    }
}
