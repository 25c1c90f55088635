package dev.hapster.cli.command;

import dev.hapster.terminal.Report.Detail;
import picocli.CommandLine.Option;

/** How much a report shows. */
public final class ReportOptions {

    @Option(names = "--quiet", description = "Print two lines: how many files and rows, and how it ended.")
    private boolean quiet;

    @Option(
            names = "--files",
            description = "Show every file (default: with more than 40, only those that " + "need attention).")
    private boolean files;

    public Detail detail() {
        return quiet ? Detail.QUIET : files ? Detail.ALL : Detail.USUAL;
    }
}
