package dev.hapster.core.query;

import static org.assertj.core.api.Assertions.assertThat;

import dev.hapster.core.query.value.Texts;
import java.math.BigDecimal;
import java.time.LocalDate;
import java.time.LocalDateTime;
import java.time.LocalTime;
import org.junit.jupiter.api.Test;

class TextsTest {

    @Test
    void eachKindOfValueHasOneForm() {
        assertThat(Texts.of(LocalDateTime.parse("2026-03-01T00:00"))).isEqualTo("2026-03-01T00:00:00");
        assertThat(Texts.of(LocalDateTime.parse("2026-03-01T08:00:30"))).isEqualTo("2026-03-01T08:00:30");
        assertThat(Texts.of(LocalDateTime.parse("2026-03-01T08:00:30.5"))).isEqualTo("2026-03-01T08:00:30.5");
        assertThat(Texts.of(LocalTime.parse("08:00"))).isEqualTo("08:00:00");
        assertThat(Texts.of(LocalDate.parse("2026-03-01"))).isEqualTo("2026-03-01");
        assertThat(Texts.of(new BigDecimal("1E+3"))).isEqualTo("1000");
        assertThat(Texts.of(0.1)).isEqualTo("0.1");
    }
}
