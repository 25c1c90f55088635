package dev.hapster.core.deliver.table;

import dev.hapster.core.query.PartExport;
import dev.hapster.core.query.part.PartFile;
import dev.hapster.core.query.part.PartReader;
import dev.hapster.core.query.write.CopyBatches;
import dev.hapster.core.reason.Reasons;
import java.io.IOException;
import java.io.OutputStream;
import java.sql.Connection;
import java.sql.SQLException;
import java.util.ArrayList;
import java.util.List;
import java.util.Optional;
import java.util.regex.Matcher;
import java.util.regex.Pattern;
import java.util.stream.Collectors;
import org.postgresql.PGConnection;
import org.postgresql.copy.CopyIn;
import org.postgresql.util.PSQLException;
import org.postgresql.util.ServerErrorMessage;

/** Puts rows of parts into a table, as one stream. Not thread-safe. */
final class Copy implements AutoCloseable {

    private static final Pattern LINE = Pattern.compile("line (\\d+)(?:, column ([^:]+))?");

    private final PartExport export;
    private final CopyIn copy;
    private final CopyBatches batches = new CopyBatches(new ToServer());
    private final List<Begun> begun = new ArrayList<>();
    private long rows;
    private long bytes;

    /** A part, and how many rows were before it. */
    private record Begun(PartFile part, long before) {}

    Copy(Connection connection, Target target, List<TableColumn> columns, PartExport export) throws SQLException {
        this.export = export;
        copy = connection
                .unwrap(PGConnection.class)
                .getCopyAPI()
                .copyIn("COPY " + target.quoted() + " ("
                        + columns.stream().map(TableColumn::quoted).collect(Collectors.joining(", "))
                        + ") FROM STDIN");
    }

    /** A fault of the server while it is written to. */
    private static final class ServerException extends IOException {
        private static final long serialVersionUID = 1;
        private final transient SQLException said;

        ServerException(SQLException said) {
            super(said);
            this.said = said;
        }
    }

    /** Passes bytes on. */
    private final class ToServer extends OutputStream {

        @Override
        public void write(int one) throws IOException {
            write(new byte[] {(byte) one}, 0, 1);
        }

        @Override
        public void write(byte[] some, int from, int length) throws IOException {
            try {
                copy.writeToCopy(some, from, length);
                bytes += length;
            } catch (SQLException wrong) {
                throw new ServerException(wrong);
            }
        }
    }

    /**
     * Puts the rows of a part in.
     *
     * @param number what stands in the column behind the others; empty where there is none
     * @return how many rows, and bytes
     */
    long[] part(PartFile part, String number) throws SQLException, IOException {
        long before = bytes;
        long first = rows;
        begun.add(new Begun(part, first));
        int columns = export.columns().size();
        try {
            export.each(part, (reader, selected, count) -> {
                try {
                    batches.write(reader, selected, count, columns, number);
                } catch (CopyBatches.NulException nul) {
                    throw new IOException(told(reader, selected, count, part, rows - first));
                }
                rows += count;
            });
            batches.finish();
        } catch (ServerException server) {
            throw new SQLException(where(server.said), server.said.getSQLState(), server.said);
        }
        return new long[] {rows - first, bytes - before};
    }

    /** @return how many rows the server took */
    long end() throws SQLException, IOException {
        try {
            return copy.endCopy();
        } catch (SQLException wrong) {
            throw new SQLException(where(wrong), wrong.getSQLState(), wrong);
        }
    }

    /** What the server says, with the file and line of the row that it means. */
    private String where(SQLException wrong) throws IOException {
        Optional<ServerErrorMessage> message = wrong instanceof PSQLException server
                ? Optional.ofNullable(server.getServerErrorMessage())
                : Optional.empty();
        if (message.isEmpty()) {
            return wrong.getMessage();
        }
        String said = message.get().getMessage();
        String detail = message.get().getDetail();
        String text = detail == null ? said : said + " (" + detail + ")";
        Matcher line =
                LINE.matcher(Optional.ofNullable(message.get().getWhere()).orElse(""));
        if (line.find()) {
            long number = Long.parseLong(line.group(1)) - 1;
            for (int i = begun.size() - 1; i >= 0; i--) {
                if (begun.get(i).before <= number) {
                    Optional<String> origin = export.origin(begun.get(i).part, number - begun.get(i).before);
                    return text
                            + (line.group(2) == null ? "" : ", column " + line.group(2))
                            + origin.map(place -> ", row of " + place).orElse("");
                }
            }
        }
        return text;
    }

    private String told(PartReader reader, int[] selected, int count, PartFile part, long before) throws IOException {
        for (int i = 0; i < count; i++) {
            for (int column = 0; column < export.columns().size(); column++) {
                if (reader.value(column, selected[i]) instanceof String text && text.indexOf('\0') >= 0) {
                    return "A database cannot hold the character U+0000, and "
                            + export.columns().get(column).name() + " has it in " + Reasons.quote(text)
                            + export.origin(part, before + i)
                                    .map(place -> ", row of " + place)
                                    .orElse("")
                            + ". Leave the column or the row out: `columns`, `where`";
                }
            }
        }
        throw new IllegalStateException("One of the rows has it");
    }

    @Override
    public void close() throws SQLException {
        if (copy.isActive()) {
            copy.cancelCopy();
        }
    }
}
