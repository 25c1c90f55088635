package dev.hapster.core.query.write;

import com.fasterxml.aalto.stax.OutputFactoryImpl;
import dev.hapster.core.query.value.Field;
import dev.hapster.core.query.value.QueryException;
import java.io.IOException;
import java.io.OutputStream;
import java.nio.charset.StandardCharsets;
import java.util.List;
import java.util.regex.Pattern;
import javax.xml.stream.XMLStreamException;
import javax.xml.stream.XMLStreamWriter;

/**
 * XML 1.0 in UTF-8: an element a row, and in it one for each value; empty values have none. Columns with points in
 * their names lie in elements of their own, and those whose last name begins with {@code @} are attributes. Behind
 * {@code []} there are several elements of the name.
 */
final class XmlRows implements RowWriter {

    /**
     * A name without a prefix, of the characters that XML 1.0 (fifth edition) allows in the Basic Multilingual Plane.
     */
    private static final Pattern NAME = Pattern.compile(
            "[A-Z_a-z\\u00C0-\\u00D6\\u00D8-\\u00F6\\u00F8-\\u02FF\\u0370-\\u037D\\u037F-\\u1FFF\\u200C\\u200D\\u2070-\\u218F"
                    + "\\u2C00-\\u2FEF\\u3001-\\uD7FF\\uF900-\\uFDCF\\uFDF0-\\uFFFD]"
                    + "[-.0-9A-Z_a-z\\u00B7\\u00C0-\\u00D6\\u00D8-\\u00F6\\u00F8-\\u037D\\u037F-\\u1FFF\\u200C\\u200D\\u203F"
                    + "\\u2040\\u2070-\\u218F\\u2C00-\\u2FEF\\u3001-\\uD7FF\\uF900-\\uFDCF\\uFDF0-\\uFFFD]*");

    private final OutputStream out;
    private final RowStyle style;
    private final RowStyle.Values texts;
    private XMLStreamWriter xml;
    private Nesting nesting;
    private Levels levels;
    /** How many elements are open in that of all rows, and how many were before one of each level began. */
    private int open;

    private int[] before = new int[0];

    XmlRows(OutputStream out, RowStyle style) {
        this.out = out;
        this.style = style;
        texts = style.new Values();
    }

    /** Whether a text can be the name of an element. */
    static boolean isName(String text) {
        return NAME.matcher(text).matches();
    }

    /** Whether XML 1.0 can hold a character, given as a code point. */
    static boolean isCharacter(int c) {
        return c == '\t'
                || c == '\n'
                || c == '\r'
                || (c >= ' ' && c <= 0xD7FF)
                || (c >= 0xE000 && c <= 0xFFFD)
                || c >= 0x10000;
    }

    /** Sees whether columns can be elements and attributes. */
    static void check(List<String> columns) throws QueryException {
        check(Nesting.of(columns));
    }

    private static void check(Nesting of) throws QueryException {
        for (Nesting one : of.inside) {
            boolean attribute = one.name.startsWith("@");
            if (attribute && one.list) {
                throw new QueryException("'" + one.name + "' is an attribute, of which there is one in an element");
            }
            String name = attribute ? one.name.substring(1) : one.name;
            if (!isName(name) || (attribute && one.column < 0)) {
                throw new QueryException("'" + one.name + "' cannot be the name of an "
                        + (attribute ? "attribute" : "element") + " in XML; name the column otherwise: COLUMN as NAME");
            }
            check(one);
        }
    }

    private interface Writing {
        void write() throws XMLStreamException;
    }

    private static void write(Writing writing) throws IOException {
        try {
            writing.write();
        } catch (XMLStreamException wrong) {
            throw wrong.getCause() instanceof IOException io ? io : new IOException(wrong.getMessage(), wrong);
        }
    }

    @Override
    public void begin(List<Field> fields) throws IOException {
        try {
            nesting = Nesting.of(fields.stream().map(Field::name).toList());
        } catch (QueryException wrong) {
            throw new IOException(wrong.getMessage(), wrong);
        }
        levels = new Levels(nesting);
        before = new int[levels.count()];
        write(() -> {
            xml = new OutputFactoryImpl().createXMLStreamWriter(out, StandardCharsets.UTF_8.name());
            xml.writeStartDocument("UTF-8", "1.0");
            xml.writeCharacters("\n");
            xml.writeStartElement(style.root());
            xml.writeCharacters("\n");
        });
    }

    @Override
    public void row(List<Comparable<?>> values) throws IOException {
        int level = levels.next(values);
        write(() -> {
            end(before[level]);
            begin(nesting.level(level), level, values);
            if (levels.count() == 1) {
                end(0);
            }
        });
    }

    private void end(int left) throws XMLStreamException {
        while (open > left) {
            xml.writeEndElement();
            if (--open == 0) {
                xml.writeCharacters("\n");
            }
        }
    }

    /** Writes one of a level, up to what comes in further rows. */
    private void begin(Nesting of, int level, List<Comparable<?>> values) throws XMLStreamException {
        before[level] = open;
        xml.writeStartElement(level == 0 ? style.row() : of.name);
        open++;
        if (of.column < 0) {
            inside(of, level, values);
        } else if (values.get(of.column) != null) {
            xml.writeCharacters(texts.of(values.get(of.column)));
        }
    }

    private void inside(Nesting of, int level, List<Comparable<?>> values) throws XMLStreamException {
        for (Nesting one : of.inside) {
            if (one.name.startsWith("@") && values.get(one.column) != null) {
                xml.writeAttribute(one.name.substring(1), texts.of(values.get(one.column)));
            }
        }
        for (Nesting one : of.inside) {
            if (one.list) {
                begin(one, level + 1, values);
            } else if (one.holdsList()) {
                xml.writeStartElement(one.name);
                open++;
                inside(one, level, values);
            } else if (!one.name.startsWith("@") && !one.isEmpty(values)) {
                xml.writeStartElement(one.name);
                if (one.column < 0) {
                    inside(one, level, values);
                } else {
                    xml.writeCharacters(texts.of(values.get(one.column)));
                }
                xml.writeEndElement();
            }
        }
    }

    @Override
    public void finish() throws IOException {
        write(() -> {
            end(0);
            xml.writeEndElement();
            xml.writeCharacters("\n");
            xml.writeEndDocument();
            xml.close();
        });
    }
}
