package dev.hapster.core.shape;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import dev.hapster.core.TestJobs;
import dev.hapster.core.definition.DatasetDef;
import dev.hapster.core.reason.FileRejectedException;
import java.util.List;
import org.junit.jupiter.api.Test;

class BindingsTest {

    @Test
    void aHeaderThatComesAgainIsBoundOnceAndAnotherOneByItself() throws Exception {
        DatasetDef dataset = TestJobs.dataset("{name: a, type: text}", "{name: b, type: text}");
        Bindings bindings = new Bindings(dataset, TestJobs.job(dataset, ""));
        Binding first = bindings.of(List.of("a", "b"));
        assertThat(first.fields()).containsExactly(0, 1);
        assertThat(bindings.of(List.of("a", "b"))).isSameAs(first);
        assertThat(bindings.of(List.of("b", "a")).fields()).containsExactly(1, 0);
        assertThatThrownBy(() -> bindings.of(List.of("A", "a-"))).isInstanceOf(FileRejectedException.class);
        assertThat(bindings.of(List.of("a", "b", "c")).unused()).containsExactly("c");
    }
}
