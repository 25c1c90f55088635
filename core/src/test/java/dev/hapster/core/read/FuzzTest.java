package dev.hapster.core.read;

import static org.assertj.core.api.Assertions.assertThat;

import dev.hapster.core.TestJobs;
import dev.hapster.core.definition.read.Read;
import dev.hapster.core.read.bytes.Archive;
import dev.hapster.core.reason.FileRejectedException;
import dev.hapster.core.store.PartOrigin;
import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.Path;
import java.time.Duration;
import java.time.Instant;
import java.util.Arrays;
import java.util.List;
import java.util.Random;
import org.junit.jupiter.api.io.TempDir;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.ValueSource;

/**
 * Damages good files at random, for as long as is wanted, and reads them. Whatever happens is a reason; anything else
 * that is thrown fails, with the seed by which it can be had again and the file kept. A few in each test run, as many
 * as one has patience for with {@code ./dev fuzz}.
 */
class FuzzTest {

    /** Files of each kind in a usual test run, always the same ones. */
    private static final int FEW = 80;

    private static final List<String> TOKENS = List.of(
            "\"",
            "\"\"",
            ",",
            "\n",
            "\r",
            "\0",
            "\ufeff",
            "{",
            "}",
            "[",
            "]",
            ":",
            "null",
            "1e999",
            "-",
            "<",
            ">",
            "</",
            "<!DOCTYPE",
            "&amp;",
            "&x;",
            "<![CDATA[",
            "\ud83d\udca7",
            "\u00e4",
            "999999999999999999999",
            "PAR1",
            "PK",
            "<v>",
            "t=\"s\"",
            "r=\"XFD1048576\"");

    @TempDir
    private Path folder;

    @ParameterizedTest
    @ValueSource(
            strings = {
                "delimited",
                "delimited-odd",
                "lines",
                "fixed",
                "json",
                "json_lines",
                "xml",
                "xlsx",
                "xls",
                "parquet",
                "gz",
                "zip"
            })
    void damagedFilesAreReasons(String kind) throws Exception {
        byte[] good = good(kind);
        Read rules = Contents.rules(
                switch (kind) {
                    case "delimited-odd" ->
                        "separator: \"||\", escape: \"\\\\\", comment: \"#\", ends_at: Total, lines_below: 1, "
                                + "header_contains: id, short_rows: fill";
                    case "lines" -> "as: lines";
                    case "fixed" -> "as: fixed, columns: {id: 1-3, day: 5-14, value: 16-}";
                    case "json" -> "as: json, rows: \"visits[].samples[]\"";
                    case "json_lines" -> "as: json_lines, rows: \"samples[]\"";
                    case "xml" -> "as: xml, rows: report/visit/sample";
                    case "xlsx", "xls" -> "as: workbook, merged: repeat";
                    case "parquet" -> "as: parquet";
                    default -> "as: delimited";
                });
        long seconds = Long.getLong("hapster.fuzz.seconds", 0);
        long seed = seconds == 0 ? 7 : System.nanoTime();
        long end = System.nanoTime() + Duration.ofSeconds(seconds).toNanos();
        Random random = new Random(seed);
        Path file = folder.resolve("fuzzed");
        long tries = 0;
        long refused = 0;
        while (seconds == 0 ? tries < FEW : System.nanoTime() < end) {
            byte[] bytes = damage(good, random);
            Files.write(file, bytes);
            tries++;
            try {
                if (kind.equals("zip")) {
                    for (Archive.Entry entry : Archive.entries(Files.newByteChannel(file))) {
                        Archive.open(Files.newByteChannel(file), entry.name()).close();
                    }
                } else {
                    Contents.read(file, rules, null);
                }
            } catch (FileRejectedException told) {
                refused++;
                assertThat(told.reason().sentence()).isNotBlank();
            } catch (Exception | StackOverflowError | OutOfMemoryError wrong) {
                if (kind.equals("zip") && wrong instanceof java.io.IOException) {
                    continue; // said as a sentence by whoever lists the archive
                }
                Path kept = Files.write(Path.of(System.getProperty("java.io.tmpdir"), "hapster-fuzz-" + kind), bytes);
                throw new AssertionError(kind + " with seed " + seed + ", try " + tries + ", kept as " + kept, wrong);
            }
        }
        assertThat(refused).isLessThan(tries);
        System.out.printf("%-14s %,9d files read, %,9d of them refused with a reason%n", kind, tries, refused);
        assertThat(tries).isPositive();
    }

    private byte[] good(String kind) throws Exception {
        String table = "id,day,value\na,2026-01-01,1.5\n\"b \"\"x\"\"\",2026-01-02,\"2\n5\"\nc,,\n";
        String sample = "{\"id\": \"a\", \"day\": \"2026-01-01\", \"value\": 1.5, \"ok\": true, \"none\": null, "
                + "\"where\": {\"x\": [1, 2]}}";
        Path file = folder.resolve("good");
        return switch (kind) {
            case "delimited" -> table.getBytes(StandardCharsets.UTF_8);
            case "delimited-odd" ->
                "title\nid||day||value\n# note\na||\"x||\ny\"||1\\||2\nb||3\nTotal||4\nend\n"
                        .getBytes(StandardCharsets.UTF_8);
            case "lines" -> "one\ntwo \u00e4\r\nthree\n".getBytes(StandardCharsets.UTF_8);
            case "fixed" -> "abc 2026-01-01 1.5\n\u00e4bc 2026-01-02 2\n".getBytes(StandardCharsets.UTF_8);
            case "json" ->
                ("{\"team\": \"A\", \"visits\": [{\"samples\": [" + sample + ", " + sample + "], \"date\": \"x\"}]}")
                        .getBytes(StandardCharsets.UTF_8);
            case "json_lines" ->
                ("{\"samples\": [" + sample + "]}\n{\"samples\": []}\n{\"samples\": [" + sample + "]}\n")
                        .getBytes(StandardCharsets.UTF_8);
            case "xml" ->
                ("<?xml version=\"1.0\"?><report lab=\"E\"><!-- x --><visit d=\"1\"><sample "
                                + "no=\"1\"><v>0.5</v><n><![CDATA[a<b]]></n></sample></visit></report>")
                        .getBytes(StandardCharsets.UTF_8);
            case "xlsx" ->
                Files.readAllBytes(new MiniBook()
                        .styles("dd.mm.yyyy", "00000")
                        .texts("<t>id</t>", "<r><t>a_x000D_</t></r>")
                        .sheet(
                                "a",
                                MiniBook.row(1, "s:0", "'day", "'value")
                                        + MiniBook.row(2, "s:1", "1@46082", "2@5")
                                        + MiniBook.row(3, "'c", "e:#N/A", "b:1"),
                                "<mergeCells><mergeCell ref=\"A2:A3\"/></mergeCells>")
                        .write(file));
            case "xls" -> {
                try (var book = new org.apache.poi.hssf.usermodel.HSSFWorkbook();
                        var out = new java.io.ByteArrayOutputStream()) {
                    var sheet = book.createSheet("a");
                    for (int row = 0; row < 5; row++) {
                        sheet.createRow(row).createCell(0).setCellValue("text " + row);
                        sheet.getRow(row).createCell(1).setCellValue(row * 1.5);
                        sheet.getRow(row).createCell(2).setCellFormula("B1*2");
                    }
                    sheet.addMergedRegion(new org.apache.poi.ss.util.CellRangeAddress(1, 2, 0, 0));
                    book.write(out);
                    yield out.toByteArray();
                }
            }
            case "parquet" -> {
                TestJobs.part(
                        file,
                        TestJobs.dataset(
                                "{name: id, type: text}", "{name: day, type: date}", "{name: value, type: text}"),
                        new PartOrigin("a", "/a", 1, Instant.EPOCH),
                        table);
                yield Files.readAllBytes(file);
            }
            case "gz" -> {
                try (var out = new java.io.ByteArrayOutputStream()) {
                    try (var zip = new java.util.zip.GZIPOutputStream(out)) {
                        zip.write(table.getBytes(StandardCharsets.UTF_8));
                    }
                    yield out.toByteArray();
                }
            }
            default -> {
                try (var out = new java.io.ByteArrayOutputStream()) {
                    try (var zip = new java.util.zip.ZipOutputStream(out)) {
                        zip.putNextEntry(new java.util.zip.ZipEntry("a/x.csv"));
                        zip.write(table.getBytes(StandardCharsets.UTF_8));
                    }
                    yield out.toByteArray();
                }
            }
        };
    }

    private static byte[] damage(byte[] good, Random random) {
        byte[] bytes = good;
        for (int change = random.nextInt(4); change >= 0; change--) {
            bytes = bytes.length == 0 ? new byte[1] : bytes;
            int at = random.nextInt(bytes.length);
            switch (random.nextInt(5)) {
                case 0 -> {
                    bytes = bytes.clone();
                    bytes[Math.min(at, bytes.length - 1)] = (byte) random.nextInt(256);
                }
                case 1 ->
                    bytes = put(
                            bytes, at, TOKENS.get(random.nextInt(TOKENS.size())).getBytes(StandardCharsets.UTF_8), 0);
                case 2 -> bytes = put(bytes, at, new byte[0], random.nextInt(20));
                case 3 ->
                    bytes = put(
                            bytes,
                            at,
                            Arrays.copyOfRange(bytes, at, Math.min(bytes.length, at + random.nextInt(60))),
                            0);
                default -> bytes = random.nextInt(4) == 0 ? Arrays.copyOf(bytes, Math.max(1, at)) : bytes;
            }
        }
        return bytes.length == 0 ? new byte[1] : bytes;
    }

    /** Puts something in, in place of some bytes. */
    private static byte[] put(byte[] bytes, int at, byte[] what, int without) {
        int rest = Math.min(bytes.length, at + without);
        byte[] all = new byte[at + what.length + bytes.length - rest];
        System.arraycopy(bytes, 0, all, 0, at);
        System.arraycopy(what, 0, all, at, what.length);
        System.arraycopy(bytes, rest, all, at + what.length, bytes.length - rest);
        return all;
    }
}
