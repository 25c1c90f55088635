package dev.hapster.service.catalogue;

import com.fasterxml.jackson.core.JsonProcessingException;
import com.fasterxml.jackson.databind.ObjectMapper;
import jakarta.enterprise.context.ApplicationScoped;
import java.util.List;

/** Lists that the catalogue keeps as texts, in JSON. */
@ApplicationScoped
class JsonTexts {

    private final ObjectMapper json;

    JsonTexts(ObjectMapper json) {
        this.json = json;
    }

    String of(List<?> plain) {
        try {
            return json.writeValueAsString(plain);
        } catch (JsonProcessingException impossible) {
            throw new IllegalStateException("Lists of plain records can be written", impossible);
        }
    }

    /**
     * What was written before.
     *
     * @param array of what each of them becomes
     * @param what it is, for the message where it is no such list
     */
    <T> List<T> list(String text, Class<T[]> array, String what) {
        try {
            return List.of(json.readValue(text, array));
        } catch (JsonProcessingException wrong) {
            throw new IllegalStateException(what + " cannot be read back", wrong);
        }
    }
}
