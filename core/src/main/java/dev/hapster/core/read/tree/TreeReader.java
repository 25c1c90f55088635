package dev.hapster.core.read.tree;

import com.fasterxml.jackson.core.JsonGenerator;
import dev.hapster.core.definition.read.Format;
import dev.hapster.core.definition.read.Read;
import dev.hapster.core.definition.read.ReadSection;
import dev.hapster.core.read.bytes.Transcoded;
import dev.hapster.core.read.parquet.ParquetColumns;
import dev.hapster.core.read.record.Content;
import dev.hapster.core.read.record.Header;
import dev.hapster.core.read.record.RecordReader;
import dev.hapster.core.read.text.DelimitedReader;
import dev.hapster.core.reason.FileRejectedException;
import dev.hapster.core.reason.Reasons;
import dev.hapster.core.row.RawBatch;
import java.io.IOException;
import java.io.StringWriter;
import java.io.UncheckedIOException;
import java.util.ArrayList;
import java.util.Collection;
import java.util.List;
import java.util.Optional;

/**
 * Reads the rows of a nested file, which is gone through twice: once to learn its columns, and once for the rows. A
 * column's name is its path, within the row for the row's own, from the top of the file for those that rows share.
 */
public final class TreeReader implements RecordReader {

    private final Content content;
    private final Read rules;
    private final long most;
    private final TreeShape shape;
    private TreePass pass;
    private List<String> names = List.of();
    private long records;

    /**
     * @param most rows that are looked at to learn the columns
     * @param members names of single members of arrays that are columns, such as {@code position[0]}
     */
    public TreeReader(Content content, Read rules, long most, Collection<String> members) {
        this.content = content;
        this.rules = rules;
        this.most = most;
        boolean xml = rules.as() == Format.XML;
        List<String> path = rules.get(ReadSection.ROWS);
        shape = new TreeShape(
                xml && path.isEmpty() ? List.of("*", "*") : path, xml ? "/" : ".", xml ? "/" : "$.", members);
    }

    private TreeSource open() throws IOException, FileRejectedException {
        return open(content, rules);
    }

    static TreeSource open(Content content, Read rules) throws IOException, FileRejectedException {
        return switch (rules.as()) {
            case JSON -> new JsonSource(Transcoded.utf8(content.stream(), rules.encoding()));
            case JSON_LINES -> new JsonLinesSource(content.stream(), DelimitedReader.lines(rules));
            case XML -> new XmlSource(content.stream(), rules.get(ReadSection.NAMESPACES));
            case PARQUET -> new ParquetSource(content.seekable());
            case DELIMITED, LINES, FIXED, WORKBOOK ->
                throw new IllegalStateException(rules.as().noun() + " has no elements");
        };
    }

    @Override
    public Header header() throws IOException, FileRejectedException {
        if (readsAhead()) {
            learn();
        } else {
            scan();
        }
        names = shape.names();
        boolean some =
                (rules.as() == Format.PARQUET && rules.get(ReadSection.ROWS).isEmpty()) || shape.hasRows();
        if (!some || names.isEmpty()) {
            throw new FileRejectedException(
                    rules.get(ReadSection.ROWS).isEmpty()
                            ? Reasons.noRecords()
                            : Reasons.rowsMissing(
                                    String.join(rules.as().pathMark(), rules.get(ReadSection.ROWS)), names));
        }
        return new Header(names, "");
    }

    /** Every line stands by itself, and all of them are read. */
    @Override
    public boolean readsAhead() {
        return rules.as() == Format.JSON_LINES && most == Long.MAX_VALUE && shape.isFlat();
    }

    /** The first pass on several cores; the columns come in the order in which the file first has them. */
    private void learn() throws IOException, FileRejectedException {
        try (JsonLinesShared<TreeShape> pieces =
                new JsonLinesShared<>(content.stream(), rules, JsonLinesShared.LINES, (piece, lines) -> {
                    TreeShape met = shape.fresh();
                    JsonLinesShared.give(lines, new TreeScan(met));
                    return met;
                })) {
            for (Optional<TreeShape> met = pieces.next(); met.isPresent(); met = pieces.next()) {
                shape.meet(met.get());
            }
        }
    }

    private void scan() throws IOException, FileRejectedException {
        TreeScan scan = new TreeScan(shape);
        try (TreeSource first = open()) {
            boolean described = first instanceof ParquetSource;
            if (described) {
                ((ParquetSource) first).describe(scan);
                shape.forget();
            }
            while (!(described && rules.get(ReadSection.ROWS).isEmpty()) && scan.rows() < most && first.advance(scan)) {
                continue;
            }
        }
    }

    @Override
    public boolean next(RawBatch batch) throws IOException, FileRejectedException {
        if (pass == null) {
            shape.rewind();
            pass = pass();
        }
        pass.next(batch);
        batch.originals = this::json;
        records += batch.rows;
        return batch.rows > 0;
    }

    private TreePass pass() throws IOException, FileRejectedException {
        if (readsAhead() && !shape.isNumbered) { // such numbers go through the whole file
            return new TreePass.OfLines(content.stream(), rules, shape);
        }
        if (rules.as() == Format.PARQUET && rules.get(ReadSection.ROWS).isEmpty()) {
            Optional<ParquetColumns> columns = ParquetColumns.open(content.seekable());
            if (columns.isPresent()) {
                return new TreePass.OfColumns(columns.get());
            }
        }
        return new TreePass.OfElements(open(), shape);
    }

    /** A row as a JSON object of its columns. */
    private String json(RawBatch batch, int row) {
        StringWriter text = new StringWriter();
        try (JsonGenerator json = JsonSource.FACTORY.createGenerator(text)) {
            json.writeStartObject();
            for (int field = 0; field < names.size(); field++) {
                byte kind = batch.kinds[row * batch.width + field];
                if (kind != RawBatch.NOTHING) {
                    json.writeFieldName(names.get(field));
                    if (kind == RawBatch.TEXT || kind == RawBatch.MOMENT || kind == RawBatch.FAULT) {
                        json.writeString(batch.text(row, field));
                    } else {
                        json.writeRawValue(batch.text(row, field));
                    }
                }
            }
            json.writeEndObject();
        } catch (IOException impossible) {
            throw new UncheckedIOException(impossible);
        }
        return text.toString();
    }

    @Override
    public long records() {
        return records;
    }

    @Override
    public List<String> notes() {
        List<String> notes = new ArrayList<>();
        if (shape.isNumbered) {
            notes.add("rows are named by their number, since several stand on one line");
        }
        if (pass != null) {
            RecordReader.note(
                    notes,
                    pass.withoutRows(),
                    "element above the rows holds none",
                    "elements above the rows hold none");
        }
        return notes;
    }

    @Override
    public void close() throws IOException {
        if (pass != null) {
            pass.close();
        }
    }
}
