package dev.hapster.demo;

import java.io.IOException;
import java.nio.charset.Charset;
import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.Path;
import java.nio.file.attribute.FileTime;
import java.time.Instant;
import java.time.LocalDate;
import java.time.LocalDateTime;
import java.time.format.DateTimeFormatter;
import java.util.Locale;
import java.util.Map;
import java.util.Random;

/**
 * Writes the files that have arrived from the laboratories, with what really lies about in such folders: a copy, a lock
 * file, a readme, an empty file, one with the wrong separator, one still being written, and rows that do not fit.
 */
final class ArrivedFiles {

    private static final Charset WINDOWS = Charset.forName("windows-1252");
    static final DateTimeFormatter SPACED = DateTimeFormatter.ofPattern("yyyy-MM-dd HH:mm");
    private static final DateTimeFormatter GERMAN = DateTimeFormatter.ofPattern("dd.MM.yyyy HH:mm");
    private static final DateTimeFormatter COMPACT = DateTimeFormatter.ofPattern("yyyyMMdd'T'HHmmss");
    private static final Map<String, String> GERMAN_WORDS =
            Map.of("nitrate", "Nitrat", "phosphate", "Phosphat", "turbidity", "Trübung", "ph", "pH");
    /** All files seem to have arrived at one moment long past, so that a fresh demo is the same every day. */
    static final Instant ARRIVED = Instant.parse("2026-05-04T06:00:00Z");

    private final Path inbox;

    ArrivedFiles(Path inbox) {
        this.inbox = inbox;
    }

    void write() throws IOException {
        north();
        east();
        loggers();
        visits();
        weather();
        new Workbooks(inbox.resolve("harbour"), ARRIVED).write();
        new History(inbox.resolve("history"), ARRIVED).write();
    }

    private void north() throws IOException {
        String january = "";
        for (int month = 1; month <= 4; month++) {
            Random random = new Random(1000 + month);
            LocalDateTime first = LocalDateTime.of(2026, month, 1, 6, 0);
            StringBuilder text = new StringBuilder("Sample No.,Site,Taken,Parameter,Result,Unit,Remark\n");
            int rows = 430 + 20 * month;
            for (int i = 0; i < rows; i++) {
                Measurement m = Measurement.draw(random, first, i);
                String id = String.format(Locale.ROOT, "N%02d-%04d", month, i + 1);
                String station = i % 57 == 3 ? " " + m.stationCode().toLowerCase(Locale.ROOT) : m.stationCode();
                String result = i % 61 == 7 ? "n/a" : m.valueText();
                String remark =
                        i % 83 == 11 ? "\"ice, hole drilled\nby hand\"" : i % 41 == 5 ? "\"said \"\"clear\"\"\"" : "";
                if (i % 71 == 23) {
                    result = "<0.05"; // below what the method detects: no number
                } else if (i % 199 == 120) {
                    station = "VX-7"; // a station of another river
                } else if (month == 3 && i == 300) {
                    result = "-0.4";
                } else if (month == 4 && i == 77) {
                    text.append(id).append(',').append(station).append(",2026-04-11\n"); // cut off
                    continue;
                }
                text.append(String.join(
                                ",", id, station, m.taken().format(SPACED), m.parameter(), result, m.unit(), remark))
                        .append('\n');
            }
            String mark = month == 2 ? "\ufeff" : ""; // one program in the laboratory writes a byte-order mark
            save("north/samples-2026-0" + month + ".csv", mark + text, StandardCharsets.UTF_8);
            if (month == 1) {
                january = text.toString();
            }
        }
        save("north/samples-2026-01 - copy.csv", january, StandardCharsets.UTF_8);
        save("north/.~lock.samples-2026-03.csv#", ",mira,lab-north-2,04.05.2026 07:12;", StandardCharsets.UTF_8);
        save(
                "north/readme.txt",
                "Lists go out on the third working day of the month. Questions: Mira, room 4.\n",
                StandardCharsets.UTF_8);
    }

    private void east() throws IOException {
        for (int month = 1; month <= 4; month++) {
            Random random = new Random(2000 + month);
            boolean wrongSeparator = month == 3; // a stand-in exported this one
            LocalDateTime first = LocalDateTime.of(2026, month, 1, 5, 30);
            StringBuilder text = new StringBuilder("Umweltlabor Ost\r\n")
                    .append(String.format(Locale.ROOT, "Zeitraum: %02d/2026%nAuftraggeber: Vessa-Verband%n", month)
                            .replace("\n", "\r\n"));
            String separator = wrongSeparator ? "," : ";";
            text.append(String.join(separator, "Probe", "Messstelle", "Entnahme", "Parameter", "Messwert", "Einheit"))
                    .append("\r\n");
            int rows = 380 + 15 * month;
            for (int i = 0; i < rows; i++) {
                Measurement m = Measurement.draw(random, first, i);
                String id = String.format(Locale.ROOT, "O%d%04d", month, i + 1);
                String station = i % 9 == 4 ? "V-S" + m.stationCode().substring(3) : m.stationCode();
                String taken = i % 31 == 6
                        ? m.taken().format(GERMAN).substring(0, 10)
                        : m.taken().format(GERMAN);
                String value = i % 47 == 9 ? "-" : m.valueText().replace('.', wrongSeparator ? '.' : ',');
                String parameter = GERMAN_WORDS.get(m.parameter());
                if (month == 2 && i % 10 == 8) {
                    taken = String.format(
                            Locale.ROOT,
                            "%02d.02.2026 %02d:00",
                            30 + i % 2,
                            i % 24); // days that February does not have
                } else if (i % 113 == 60) {
                    parameter = "Chlorid"; // nobody asked for it
                } else if (i % 151 == 33) {
                    value = "1.2," + i; // a thousands mark where none belongs
                }
                text.append(String.join(separator, id, station, taken, parameter, value, m.unit()))
                        .append("\r\n");
            }
            save("east/samples-2026-0" + month + ".csv", text.toString(), WINDOWS);
        }
        save("east/samples-2026-05.csv", "", WINDOWS);
        save("east/samples-2026-06.csv.part", "Umweltlabor Ost\r\nZeitraum: 06/2026\r\nAuftr", WINDOWS);
    }

    private void loggers() throws IOException {
        Random random = new Random(3000);
        int reading = 0;
        for (int part = 1; part <= 4; part++) {
            StringBuilder text = new StringBuilder(
                    part == 1
                            ? "reading|station|sampled_at|parameter|value|unit|battery\n"
                            : ""); // the dump is cut wherever a part is full
            for (int i = 0; i < 520; i++) {
                Measurement m = Measurement.draw(random, LocalDateTime.of(2026, part, 1, 0, 0), reading);
                String value = reading % 97 == 13 ? "NaN" : m.valueText();
                String taken = m.taken().format(COMPACT);
                if (reading % 401 == 200) {
                    taken = "19700101T0000"; // a logger whose clock has stopped
                }
                text.append(String.join(
                                "|",
                                String.format(Locale.ROOT, "L%07d", ++reading),
                                m.stationCode(),
                                taken,
                                m.parameter(),
                                value,
                                m.unit(),
                                String.format(Locale.ROOT, "%.1f", 3.3 + random.nextDouble())))
                        .append('\n');
                if (reading == 1211) {
                    text.append("~~ link lost, resuming ~~\n");
                }
            }
            save("loggers/2026/dump-2026-part" + part + ".txt", text.toString(), StandardCharsets.US_ASCII);
        }
        save(
                "loggers/2026/dump-2026-part5.txt",
                "\0".repeat(4096),
                StandardCharsets.US_ASCII); // the card died while writing
        save("loggers/battery-log.txt", "part|volts\n1|3.6\n", StandardCharsets.US_ASCII);
    }

    /** Visits of the field team, each with its samples within it. */
    private void visits() throws IOException {
        Random random = new Random(4000);
        StringBuilder text = new StringBuilder("{\n  \"campaign\": \"Spring 2026\",\n  \"visits\": [\n");
        int number = 0;
        for (int visit = 0; visit < 60; visit++) {
            LocalDateTime day =
                    LocalDateTime.of(2026, 3, 2, 8, 0).plusDays(visit / 2).plusHours(visit % 2 * 4L);
            StringBuilder samples = new StringBuilder();
            String station = "";
            for (int i = 0; i < (visit % 17 == 9 ? 0 : 4); i++) { // some visits found no water to take
                Measurement m = Measurement.draw(random, day, visit * 4 + i);
                station = m.stationCode();
                number++;
                String value = visit % 23 == 11 && i == 1 ? "\"dry\"" : number % 53 == 7 ? "null" : m.valueText();
                samples.append(i == 0 ? "" : ",\n")
                        .append(String.format(
                                Locale.ROOT,
                                "        {\"no\": \"F%04d\", \"parameter\": \"%s\", \"value\": %s, \"unit\": \"%s\"}",
                                number,
                                m.parameter(),
                                value,
                                m.unit()));
            }
            station =
                    station.isEmpty() ? Measurement.draw(random, day, visit * 4).stationCode() : station;
            text.append(visit == 0 ? "" : ",\n")
                    .append(String.format(
                            Locale.ROOT,
                            "    {\"date\": \"%s\", \"station\": {\"code\": \"%s\"}, \"team\": [\"Ilse\", "
                                    + "\"Jaro\"],%n      \"samples\": [%s]}",
                            day.format(SPACED),
                            station,
                            samples.isEmpty() ? "" : "\n" + samples));
        }
        text.append("\n  ]\n}\n");
        save("visits/visits-2026-spring.json", text.toString(), StandardCharsets.UTF_8);
        save(
                "visits/visits-2026-summer.json",
                text.substring(0, 3_000).replace("Spring", "Summer"),
                StandardCharsets.UTF_8); // the upload broke off
        save("visits/gear.txt", "sonde 3 needs new batteries\n", StandardCharsets.UTF_8);
    }

    /** What the gauges along the river measured; nobody has written definitions for it yet. */
    private void weather() throws IOException {
        DateTimeFormatter day = DateTimeFormatter.ofPattern("d MMM uuuu", Locale.ENGLISH);
        for (int month = 1; month <= 3; month++) {
            StringBuilder text = new StringBuilder("Weather service of the Vessa valley\n\n"
                    + "Gauge No.;Day;Rain (mm);Snow on the ground;Observer\n");
            LocalDate first = LocalDate.of(2026, month, 1);
            for (int i = 0; i < first.lengthOfMonth(); i++) {
                for (int gauge = 1; gauge <= 4; gauge++) {
                    boolean dry = (i + gauge) % 3 == 0;
                    boolean broken = (i * 4 + gauge) % 37 == 0;
                    text.append(String.format(Locale.ROOT, "%04d;", gauge * 17))
                            .append(day.format(first.plusDays(i)))
                            .append(';')
                            .append(broken ? "n/a" : dry ? "0,0" : (i * gauge % 23) + "," + (i + gauge) % 10)
                            .append(';')
                            .append(month < 3 && i % 5 < 3 ? "yes" : "no")
                            .append(';')
                            .append(gauge == 2 && i % 2 == 0 ? "" : gauge < 3 ? "Björn" : "Ása")
                            .append('\n');
                }
            }
            save("weather/weather-2026-0" + month + ".csv", text.toString(), StandardCharsets.UTF_8);
        }
    }

    private void save(String name, String text, Charset encoding) throws IOException {
        Path target = inbox.resolve(name);
        Files.createDirectories(target.getParent());
        Files.write(target, text.getBytes(encoding));
        Files.setLastModifiedTime(target, FileTime.from(ARRIVED));
    }
}
