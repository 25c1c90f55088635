package dev.hapster.core.read.tree;

import dev.hapster.core.read.bytes.Unpacked;
import dev.hapster.core.read.bytes.Utf8Buffer;
import dev.hapster.core.read.text.DelimitedReader;
import dev.hapster.core.read.workbook.Xml;
import dev.hapster.core.reason.FileRejectedException;
import dev.hapster.core.reason.Reasons;
import dev.hapster.core.row.RawBatch;
import java.io.IOException;
import java.io.InputStream;
import java.util.ArrayList;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import javax.xml.stream.XMLStreamConstants;
import javax.xml.stream.XMLStreamException;
import javax.xml.stream.XMLStreamReader;

/**
 * XML 1.0 with namespaces. An attribute is an element whose name begins with {@code @}; entities that a document
 * declares are rejected.
 */
final class XmlSource implements TreeSource {

    private static final String INSTANCE = "http://www.w3.org/2001/XMLSchema-instance";
    private static final int MOST_DEPTH = 1_000;
    private static final int MOST_ATTRIBUTES = 10_000;

    private final InputStream in;
    private final XMLStreamReader xml;
    private final Map<String, String> prefixes = new HashMap<>();
    private final List<Utf8Buffer> texts = new ArrayList<>();
    private final boolean[] hasParts = new boolean[MOST_DEPTH + 1];
    private int depth;

    XmlSource(InputStream in, Map<String, String> namespaces) throws IOException, FileRejectedException {
        this.in = in;
        namespaces.forEach((prefix, namespace) -> prefixes.put(namespace, prefix + ":"));
        try {
            xml = Xml.open(in);
        } catch (XMLStreamException wrong) {
            throw refusal(wrong);
        }
    }

    private static FileRejectedException refusal(XMLStreamException wrong) throws IOException {
        Throwable cause = wrong.getNestedException();
        if (cause instanceof Unpacked.DamagedException damaged) {
            return new FileRejectedException(Reasons.damaged(damaged.getMessage()));
        }
        if (cause instanceof IOException unreadable && !(cause instanceof java.io.CharConversionException)) {
            throw unreadable;
        }
        String message = String.valueOf(wrong.getMessage())
                .split("\n")[0]
                .replaceFirst("^ParseError at.*Message: ", "")
                .strip();
        String place = wrong.getLocation() == null
                ? ""
                : "line " + wrong.getLocation().getLineNumber() + ", column "
                        + wrong.getLocation().getColumnNumber();
        if (message.contains("ntity")) {
            return new FileRejectedException(Reasons.structureRejected("is XML with entities of its own, at " + place
                    + "; they are not read, since they can stand for anything"));
        }
        return new FileRejectedException(Reasons.notWellFormed("XML", place, message));
    }

    private String name(String namespace, String local) {
        String prefix = namespace == null ? null : prefixes.get(namespace);
        return prefix == null ? local : prefix + local;
    }

    @Override
    public boolean advance(TreeSink sink) throws IOException, FileRejectedException {
        try {
            if (!xml.hasNext()) {
                return false;
            }
            switch (xml.next()) {
                case XMLStreamConstants.START_DOCUMENT -> {
                    // the document itself is begun with its first element
                }
                case XMLStreamConstants.START_ELEMENT -> begin(sink);
                case XMLStreamConstants.CHARACTERS, XMLStreamConstants.CDATA, XMLStreamConstants.SPACE -> {
                    if (depth > 0) {
                        texts.get(depth).append(xml.getTextCharacters(), xml.getTextStart(), xml.getTextLength());
                        if (texts.get(depth).used > DelimitedReader.MOST_RECORD_BYTES) {
                            throw new FileRejectedException(Reasons.recordTooLong(
                                    xml.getLocation().getLineNumber(), DelimitedReader.MOST_RECORD_BYTES));
                        }
                    }
                }
                case XMLStreamConstants.END_ELEMENT -> end(sink);
                case XMLStreamConstants.ENTITY_REFERENCE -> throw new XMLStreamException("entity", xml.getLocation());
                default -> {
                    // comments and instructions are no data
                }
            }
            return true;
        } catch (XMLStreamException wrong) {
            throw refusal(wrong);
        }
    }

    private void begin(TreeSink sink) throws IOException, FileRejectedException {
        long line = xml.getLocation().getLineNumber();
        if (depth == 0) {
            sink.begin("", line);
        }
        hasParts[depth] = true;
        if (++depth > MOST_DEPTH) {
            throw new FileRejectedException(Reasons.structureRejected(
                    "nests deeper than " + Reasons.grouped(MOST_DEPTH) + " levels, at line " + line));
        }
        while (texts.size() <= depth) {
            texts.add(new Utf8Buffer());
        }
        texts.get(depth).used = 0;
        hasParts[depth] = false;
        if (xml.getAttributeCount() > MOST_ATTRIBUTES) {
            throw new FileRejectedException(Reasons.structureRejected("has an element with more than "
                    + Reasons.grouped(MOST_ATTRIBUTES) + " attributes, at line " + line));
        }
        sink.begin(name(xml.getNamespaceURI(), xml.getLocalName()), line);
        for (int i = 0; i < xml.getAttributeCount(); i++) {
            hasParts[depth] = true;
            if (!INSTANCE.equals(xml.getAttributeNamespace(i))) {
                sink.begin("@" + name(xml.getAttributeNamespace(i), xml.getAttributeLocalName(i)), line);
                byte[] value = xml.getAttributeValue(i).getBytes(java.nio.charset.StandardCharsets.UTF_8);
                sink.value(RawBatch.TEXT, value, 0, value.length);
                sink.end();
            }
        }
    }

    private void end(TreeSink sink) throws IOException, FileRejectedException {
        Utf8Buffer text = texts.get(depth);
        boolean blank = true;
        for (int i = 0; i < text.used && blank; i++) {
            blank = text.bytes[i] <= ' ' && text.bytes[i] >= 0;
        }
        if (!blank || !hasParts[depth]) {
            sink.value(RawBatch.TEXT, text.bytes, 0, blank ? 0 : text.used);
        }
        sink.end();
        if (--depth == 0) {
            sink.end();
        }
    }

    @Override
    public void close() throws IOException {
        in.close();
    }
}
