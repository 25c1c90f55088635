package dev.hapster.core.read.tree;

import com.fasterxml.jackson.core.JsonFactory;
import com.fasterxml.jackson.core.JsonLocation;
import com.fasterxml.jackson.core.JsonParseException;
import com.fasterxml.jackson.core.JsonParser;
import com.fasterxml.jackson.core.JsonProcessingException;
import com.fasterxml.jackson.core.JsonToken;
import com.fasterxml.jackson.core.StreamReadConstraints;
import com.fasterxml.jackson.core.exc.StreamConstraintsException;
import dev.hapster.core.read.bytes.Transcoded;
import dev.hapster.core.read.bytes.Unpacked;
import dev.hapster.core.read.bytes.Utf8Buffer;
import dev.hapster.core.read.text.DelimitedReader;
import dev.hapster.core.reason.FileRejectedException;
import dev.hapster.core.reason.Reasons;
import dev.hapster.core.row.RawBatch;
import java.io.CharConversionException;
import java.io.IOException;
import java.io.InputStream;
import java.nio.charset.StandardCharsets;
import java.util.ArrayDeque;
import java.util.Deque;

/** JSON (RFC 8259): one value, or several one after another. A list at the top is its members. */
final class JsonSource implements TreeSource {

    static final JsonFactory FACTORY = JsonFactory.builder()
            .streamReadConstraints(StreamReadConstraints.builder()
                    .maxNestingDepth(1_000)
                    .maxStringLength(DelimitedReader.MOST_RECORD_BYTES)
                    .maxNumberLength(1_000)
                    .maxNameLength(10_000)
                    .build())
            .build();
    private static final byte[] TRUE = "true".getBytes(StandardCharsets.UTF_8);
    private static final byte[] FALSE = "false".getBytes(StandardCharsets.UTF_8);
    private static final byte[] NONE = new byte[0];

    private final JsonParser parser;
    /** On which all stands; 0 where the parser says so. */
    private final long onlyLine;
    /** What each open array is called; null for an open object. */
    private final Deque<Object> open = new ArrayDeque<>();

    private final Utf8Buffer text = new Utf8Buffer();

    private static final Object OBJECT = new Object();

    /** An array, and whether it is a member of another one and so an element itself. */
    private record Array(String name, boolean isMember) {}

    JsonSource(InputStream in) throws IOException {
        this(FACTORY.createParser(in), 0);
    }

    /** @param onlyLine on which all stands, counted from 1; 0 where the parser says so */
    JsonSource(JsonParser parser, long onlyLine) {
        this.parser = parser;
        this.onlyLine = onlyLine;
    }

    @Override
    public boolean advance(TreeSink sink) throws IOException, FileRejectedException {
        try {
            return step(sink);
        } catch (StreamConstraintsException wrong) {
            throw new FileRejectedException(Reasons.structureRejected("is JSON beyond what Hapster reads, at "
                    + place(wrong.getLocation()) + ": " + first(wrong.getOriginalMessage())));
        } catch (JsonProcessingException wrong) {
            throw new FileRejectedException(refusal(wrong));
        } catch (CharConversionException wrong) {
            throw new FileRejectedException(Reasons.notWellFormed("JSON", "", wrong.getMessage()));
        } catch (Unpacked.DamagedException wrong) {
            throw new FileRejectedException(Reasons.damaged(wrong.getMessage()));
        } catch (Transcoded.WrongByteException wrong) {
            throw new FileRejectedException(Reasons.notWellFormed(
                    "JSON", "", "a byte at " + wrong.offset + " is not in the declared encoding"));
        }
    }

    private dev.hapster.core.reason.Reason refusal(JsonProcessingException wrong) {
        String message = first(wrong.getOriginalMessage());
        if (message.startsWith("Invalid UTF-8")) {
            return Reasons.notWellFormed(
                    "JSON",
                    place(wrong.getLocation()),
                    "a byte is not UTF-8; say how the file is written with `encoding`");
        }
        return Reasons.notWellFormed("JSON", place(wrong.getLocation()), message);
    }

    /** Why a line cannot be read. */
    static String sentence(JsonProcessingException wrong) {
        JsonLocation at = wrong.getLocation();
        return first(wrong.getOriginalMessage()) + (at == null ? "" : " (column " + at.getColumnNr() + ")");
    }

    private static String first(String message) {
        String line = message == null ? "" : message.split("\n")[0];
        return line.replaceAll("\\s*\\((for|start marker|through) .*$", "").strip();
    }

    private String place(JsonLocation at) {
        return at == null ? "" : "line " + at.getLineNr() + ", column " + at.getColumnNr();
    }

    /** What an element that begins here is called. */
    private String name() throws IOException {
        Object top = open.peek();
        return top == null ? "" : top == OBJECT ? parser.currentName() : ((Array) top).name;
    }

    private long line() {
        return onlyLine > 0 ? onlyLine : parser.currentTokenLocation().getLineNr();
    }

    boolean step(TreeSink sink) throws IOException, FileRejectedException {
        JsonToken token = parser.nextToken();
        if (token == null) {
            return false;
        }
        switch (token) {
            case START_OBJECT -> {
                sink.begin(name(), line());
                open.push(OBJECT);
            }
            case END_OBJECT -> {
                open.pop();
                sink.end();
            }
            case START_ARRAY -> {
                boolean member = (open.peek() instanceof Array && open.size() > 1)
                        || (open.peek() instanceof Array array && !array.name.isEmpty());
                String name = name();
                if (member) {
                    sink.begin(name, line());
                }
                open.push(new Array(member ? TreeShape.UNNAMED : name, member));
            }
            case END_ARRAY -> {
                if (((Array) open.pop()).isMember) {
                    sink.end();
                }
            }
            case VALUE_STRING -> leaf(sink, RawBatch.TEXT);
            case VALUE_NUMBER_INT, VALUE_NUMBER_FLOAT -> leaf(sink, RawBatch.NUMBER);
            case VALUE_TRUE -> leaf(sink, RawBatch.TRUTH, TRUE);
            case VALUE_FALSE -> leaf(sink, RawBatch.TRUTH, FALSE);
            case VALUE_NULL -> leaf(sink, RawBatch.NOTHING, NONE);
            default -> {
                // names of fields are asked for when their values come
            }
        }
        return true;
    }

    private void leaf(TreeSink sink, byte kind) throws IOException, FileRejectedException {
        sink.begin(name(), line());
        text.used = 0;
        if (onlyLine == 0 || sink.wantsText()) { // a file that is one endless text must not be gone through
            char[] characters = parser.getTextCharacters();
            int from = parser.getTextOffset();
            checkWhole(characters, from, from + parser.getTextLength());
            text.append(characters, from, parser.getTextLength());
        }
        sink.value(kind, text.bytes, 0, text.used);
        sink.end();
    }

    /** Escapes can name half of a character, which no text can hold. */
    private void checkWhole(char[] characters, int from, int to) throws JsonParseException {
        for (int i = from; i < to; i++) {
            if (Character.isSurrogate(characters[i])) {
                boolean pair = Character.isHighSurrogate(characters[i])
                        && i + 1 < to
                        && Character.isLowSurrogate(characters[i + 1]);
                if (!pair) {
                    throw new JsonParseException(
                            parser,
                            String.format("a text holds half of a character, \\u%04x", (int) characters[i]),
                            parser.currentTokenLocation());
                }
                i++;
            }
        }
    }

    private void leaf(TreeSink sink, byte kind, byte[] value) throws IOException, FileRejectedException {
        sink.begin(name(), line());
        sink.value(kind, value, 0, value.length);
        sink.end();
    }

    @Override
    public void close() throws IOException {
        parser.close();
    }
}
