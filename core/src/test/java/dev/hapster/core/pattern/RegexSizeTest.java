package dev.hapster.core.pattern;

import static org.assertj.core.api.Assertions.assertThat;

import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;

class RegexSizeTest {

    @ParameterizedTest
    @CsvSource(
            delimiter = ' ',
            value = {
                "abc 3",
                "a* 2",
                "[abc\\]x]+ 2",
                "[]a] 1",
                "(ab){3} 12",
                "a{2,5} 5",
                "a{3,} 3",
                "a{x} 4",
                "\\Qa{9}\\E 5",
                "(a{1,1000}){1,1000} 10001",
                "((a{99}){99}){99} 10001",
                "a{999999999} 10001",
                "a)b{3} 4",
                "( 2",
                "[ 1",
                "x\\ 2"
            })
    void isWhatTheRepetitionsMakeOfIt(String regex, int size) {
        assertThat(RegexSize.of(regex)).isEqualTo(size);
    }
}
