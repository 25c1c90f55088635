package dev.hapster.core.definition.explain;

import com.fasterxml.jackson.core.JsonFactory;
import com.fasterxml.jackson.core.JsonGenerator;
import dev.hapster.core.definition.key.Section;
import dev.hapster.core.definition.section.AccountSection;
import dev.hapster.core.definition.section.DatasetSection;
import dev.hapster.core.definition.section.JobSection;
import dev.hapster.core.definition.section.QuerySection;
import java.io.IOException;
import java.io.StringWriter;
import java.io.UncheckedIOException;
import java.util.Collection;
import java.util.LinkedHashMap;
import java.util.Map;
import java.util.Optional;
import java.util.TreeMap;

/** The JSON Schemas (draft 2020-12) of the definition files, made from the declarations of their keys. */
public final class Schemas {

    private static final JsonFactory JSON = new JsonFactory();

    private Schemas() {}

    /** @param name {@code job}, {@code dataset}, {@code query} or {@code accounts}; empty for any other */
    public static Optional<String> of(String name) {
        return switch (name) {
            case "job" -> Optional.of(schema(name, "A Hapster job (jobs/NAME.yaml)", JobSection.SECTION));
            case "dataset" ->
                Optional.of(schema(name, "A Hapster dataset (datasets/NAME.yaml)", DatasetSection.SECTION));
            case "query" ->
                Optional.of(schema(name, "A saved Hapster query (queries/NAME.yaml)", QuerySection.SECTION));
            case "accounts" ->
                Optional.of(
                        schema(name, "The accounts of a Hapster workspace (accounts.yaml)", AccountSection.SECTION));
            default -> Optional.empty();
        };
    }

    private static String schema(String name, String title, Section section) {
        StringWriter text = new StringWriter();
        try (JsonGenerator out = JSON.createGenerator(text).useDefaultPrettyPrinter()) {
            out.writeStartObject();
            out.writeStringField("$schema", "https://json-schema.org/draft/2020-12/schema");
            out.writeStringField("$id", "urn:hapster:" + name);
            out.writeStringField("title", title);
            for (Map.Entry<String, Object> part : section.schema().entrySet()) {
                out.writeFieldName(part.getKey());
                write(out, part.getValue());
            }
            out.writeEndObject();
        } catch (IOException impossible) {
            throw new UncheckedIOException("A text in memory can be written", impossible);
        }
        return text.toString();
    }

    private static void write(JsonGenerator out, Object value) throws IOException {
        if (value instanceof Map<?, ?> map) {
            out.writeStartObject();
            // a map without an order gets one, so that the schema is the same each time
            for (Map.Entry<?, ?> pair : (map instanceof LinkedHashMap ? map : new TreeMap<>(map)).entrySet()) {
                out.writeFieldName(String.valueOf(pair.getKey()));
                write(out, pair.getValue());
            }
            out.writeEndObject();
        } else if (value instanceof Collection<?> all) {
            out.writeStartArray();
            for (Object one : all) {
                write(out, one);
            }
            out.writeEndArray();
        } else if (value instanceof Boolean flag) {
            out.writeBoolean(flag);
        } else if (value instanceof Integer number) {
            out.writeNumber(number);
        } else {
            out.writeString(String.valueOf(value));
        }
    }
}
