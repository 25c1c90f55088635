package dev.hapster.cli.command.data;

import dev.hapster.cli.http.Api;
import dev.hapster.terminal.ClientException;
import dev.hapster.terminal.ExitStatus;
import picocli.CommandLine.Option;

/** How rows are written as text, where others want it otherwise than usual. */
final class StyleOptions {

    @Option(names = "--separator", paramLabel = "CHAR", description = "CSV: between fields, or tab (default: a comma).")
    private String separator;

    @Option(names = "--encoding", paramLabel = "NAME", description = "CSV: its encoding (default: UTF-8).")
    private String encoding;

    @Option(names = "--decimal", paramLabel = "MARK", description = "CSV: the decimal mark, a point or a comma.")
    private String decimal;

    @Option(
            names = "--dates",
            paramLabel = "PATTERN",
            description = "CSV, JSON, XML: how dates look, such as dd.MM.yyyy (default: ISO 8601).")
    private String dates;

    @Option(
            names = "--timestamps",
            paramLabel = "PATTERN",
            description = "CSV, JSON, XML: how timestamps look, such as \"dd.MM.yyyy HH:mm\" (default: ISO 8601).")
    private String timestamps;

    @Option(names = "--quote-all", description = "CSV: quote every field.")
    private boolean quoteAll;

    @Option(names = "--no-header", description = "CSV: leave out the names of the columns.")
    private boolean noHeader;

    @Option(
            names = "--safe-for-spreadsheets",
            description = "CSV: put an apostrophe before texts that a spreadsheet would take for a formula "
                    + "(= + - @ in front).")
    private boolean safe;

    @Option(names = "--root", paramLabel = "NAME", description = "XML: the outermost element (default: rows).")
    private String root;

    @Option(names = "--row", paramLabel = "NAME", description = "XML: the element of a row (default: row).")
    private String row;

    /** As part of an address, behind other parameters. */
    String query(String format) {
        boolean csv = separator != null || encoding != null || decimal != null || quoteAll || noHeader || safe;
        if (csv && !format.equals("csv")) {
            throw new ClientException(
                    ExitStatus.WRONG_USE,
                    "--separator, --encoding, --decimal, --quote-all, --no-header and --safe-for-spreadsheets go with CSV,"
                            + " not with " + format + ".");
        }
        if ((root != null || row != null) && !format.equals("xml")) {
            throw new ClientException(ExitStatus.WRONG_USE, "--root and --row go with XML, not with " + format + ".");
        }
        if ((dates != null || timestamps != null) && (format.equals("xlsx") || format.equals("parquet"))) {
            throw new ClientException(
                    ExitStatus.WRONG_USE,
                    "--dates and --timestamps go with CSV, JSON and XML; " + format + " has dates of its own.");
        }
        return one("separator", separator)
                + one("encoding", encoding)
                + one("decimal", decimal)
                + one("dates", dates)
                + one("timestamps", timestamps)
                + one("root", root)
                + one("element", row)
                + (quoteAll ? "&quote_all=true" : "")
                + (noHeader ? "&header=false" : "")
                + (safe ? "&safe=true" : "");
    }

    private static String one(String name, String value) {
        return value == null ? "" : "&" + name + "=" + Api.encode(value);
    }
}
