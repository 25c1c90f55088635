package dev.hapster.core.store;

import com.fasterxml.jackson.core.JsonFactory;
import com.fasterxml.jackson.core.JsonGenerator;
import com.fasterxml.jackson.core.JsonParser;
import com.fasterxml.jackson.core.JsonToken;
import java.io.IOException;
import java.io.StringWriter;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import java.util.TreeMap;

/**
 * A file that many small parts share: their rows one part after another, and in the footer, as {@code hapster.bundle},
 * a JSON array with an object for each part, in the order of their rows: {@code rows}, how many it has, and
 * {@code notes}, what is to be known of it. Notes that are the same for all parts stand in the footer by themselves, as
 * those of a part that has a file of its own do.
 */
final class Bundle {

    /** What the list of parts is called among the notes of a footer. */
    static final String LIST = "bundle";

    private static final JsonFactory JSON = new JsonFactory();

    private Bundle() {}

    /**
     * One part in a bundle.
     *
     * @param first its first row in the file, counted from 0
     */
    record Member(long first, long rows, Map<String, String> notes) {}

    /**
     * Writes a bundle; of one part alone a file as it has when it is written by itself.
     *
     * @param parts of one schema, in the order in which their rows are to lie; at least one
     * @return the file's seal
     */
    static String write(Path target, List<HeldPart> parts) throws IOException {
        List<Member> members = new ArrayList<>();
        try (PartWriter writer = PartWriter.of(target, parts.get(0).schema)) {
            for (HeldPart part : parts) {
                members.add(new Member(0, part.rows(), part.notes));
                writer.write(part);
            }
            return finish(writer, members);
        }
    }

    /** Ends a file with these parts in it. */
    static String finish(PartWriter writer, List<Member> parts) throws IOException {
        Map<String, String> notes = shared(parts);
        if (parts.size() > 1) {
            notes.put(LIST, list(parts, notes));
        }
        return writer.finish(notes);
    }

    private static Map<String, String> shared(List<Member> parts) {
        Map<String, String> shared = new HashMap<>(parts.get(0).notes);
        for (Member part : parts) {
            shared.entrySet().retainAll(part.notes.entrySet());
        }
        return shared;
    }

    private static String list(List<Member> parts, Map<String, String> shared) throws IOException {
        StringWriter text = new StringWriter();
        try (JsonGenerator json = JSON.createGenerator(text)) {
            json.writeStartArray();
            for (Member part : parts) {
                json.writeStartObject();
                json.writeNumberField("rows", part.rows());
                json.writeObjectFieldStart("notes");
                for (Map.Entry<String, String> note : new TreeMap<>(part.notes()).entrySet()) {
                    if (!shared.containsKey(note.getKey())) {
                        json.writeStringField(note.getKey(), note.getValue());
                    }
                }
                json.writeEndObject();
                json.writeEndObject();
            }
            json.writeEndArray();
        }
        return text.toString();
    }

    /**
     * The parts of a bundle.
     *
     * @param footer the notes of its footer
     * @throws IOException where the list is not one that we have written
     */
    static List<Member> members(Map<String, String> footer) throws IOException {
        List<Member> members = new ArrayList<>();
        long first = 0;
        try (JsonParser json = JSON.createParser(footer.get(LIST))) {
            expect(json.nextToken() == JsonToken.START_ARRAY);
            while (json.nextToken() == JsonToken.START_OBJECT) {
                Member member = member(json, first, footer);
                members.add(member);
                first += member.rows;
            }
            expect(json.currentToken() == JsonToken.END_ARRAY);
        }
        return members;
    }

    private static Member member(JsonParser json, long first, Map<String, String> footer) throws IOException {
        expect("rows".equals(json.nextFieldName()) && json.nextToken() == JsonToken.VALUE_NUMBER_INT);
        long rows = json.getLongValue();
        expect(rows > 0 && "notes".equals(json.nextFieldName()) && json.nextToken() == JsonToken.START_OBJECT);
        Map<String, String> notes = new HashMap<>(footer);
        List.of(LIST, "sums", "part").forEach(notes::remove); // these are of the file
        for (String name = json.nextFieldName(); name != null; name = json.nextFieldName()) {
            notes.put(name, json.nextTextValue());
        }
        expect(json.nextToken() == JsonToken.END_OBJECT);
        notes.put("rows", Long.toString(rows));
        return new Member(first, rows, notes);
    }

    private static void expect(boolean is) throws IOException {
        if (!is) {
            throw new IOException("the list of its parts is not as we write it");
        }
    }
}
