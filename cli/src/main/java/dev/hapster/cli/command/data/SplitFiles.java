package dev.hapster.cli.command.data;

import com.fasterxml.jackson.databind.JsonNode;
import dev.hapster.cli.command.Client;
import dev.hapster.cli.http.Api;
import dev.hapster.terminal.ClientException;
import dev.hapster.terminal.ExitStatus;
import dev.hapster.terminal.Screen;
import dev.hapster.terminal.Table;
import java.io.IOException;
import java.io.InputStream;
import java.nio.file.Files;
import java.nio.file.LinkOption;
import java.nio.file.Path;
import java.nio.file.StandardCopyOption;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.UUID;
import java.util.stream.Collectors;
import java.util.zip.ZipEntry;
import java.util.zip.ZipFile;

/** Rows into several files, of which the values of each row say which one it goes to. All appear, or none. */
final class SplitFiles {

    private static final int MOST_SHOWN = 50;
    private static final int MOST_NAMED = 5;

    private final Client client;
    private final Path folder;
    private final String pattern;
    private final boolean overwrite;

    /** @param to the pattern of their paths, such as {@code out/{lab}.csv} */
    SplitFiles(Client client, String to, boolean overwrite) {
        this.client = client;
        this.overwrite = overwrite;
        int slash = to.lastIndexOf('/', to.indexOf('{'));
        folder = Path.of(slash < 0 ? "." : slash == 0 ? "/" : to.substring(0, slash));
        pattern = to.substring(slash + 1);
    }

    /**
     * Writes them.
     *
     * @param dataset address of the dataset
     * @param which what is written, as part of an address
     */
    int write(String dataset, String which) {
        String query = "to=" + Api.encode(pattern) + "&" + which;
        Map<String, Long> files = new LinkedHashMap<>();
        client.api()
                .get(dataset + "/split?" + query)
                .forEach(file ->
                        files.put(file.path("path").asText(), file.path("rows").asLong()));
        if (files.isEmpty()) {
            client.screen().line("No row matches, so there is no file.");
            return ExitStatus.DONE;
        }
        List<String> there = files.keySet().stream()
                .filter(file -> Files.exists(folder.resolve(file), LinkOption.NOFOLLOW_LINKS))
                .toList();
        if (!there.isEmpty() && !overwrite) {
            throw new ClientException(
                    ExitStatus.WRONG_USE,
                    Screen.count(there.size(), "file") + (there.size() == 1 ? " is" : " are") + " there already: "
                            + there.stream().limit(MOST_NAMED).collect(Collectors.joining(", "))
                            + (there.size() > MOST_NAMED ? " and others" : "") + "; --overwrite replaces them.");
        }
        try {
            Files.createDirectories(folder);
            Path zip = folder.resolve(".hapster-" + UUID.randomUUID() + ".zip");
            try {
                client.api().fetch(dataset + "/split/zip?" + query, zip);
                unpack(zip, files);
            } finally {
                Files.deleteIfExists(zip);
            }
            return tell(files);
        } catch (IOException wrong) {
            throw new ClientException(ExitStatus.FAILED, "Cannot write below " + folder + ": " + wrong.getMessage());
        }
    }

    private void unpack(Path zip, Map<String, Long> files) throws IOException {
        Map<Path, Path> drafts = new LinkedHashMap<>();
        try (ZipFile archive = new ZipFile(zip.toFile())) {
            for (String file : files.keySet()) {
                ZipEntry entry = archive.getEntry(file);
                Path target = folder.resolve(file).normalize();
                if (entry == null || !target.startsWith(folder.normalize())) {
                    throw new IOException("the rows changed meanwhile, so that there are other files now; try again");
                }
                Files.createDirectories(target.toAbsolutePath().getParent());
                Path draft = target.resolveSibling(".hapster-" + UUID.randomUUID() + ".part");
                drafts.put(draft, target);
                try (InputStream in = archive.getInputStream(entry)) {
                    Files.copy(in, draft);
                }
            }
            for (Map.Entry<Path, Path> one : drafts.entrySet()) {
                Files.move(one.getKey(), one.getValue(), StandardCopyOption.REPLACE_EXISTING);
            }
        } finally {
            for (Path draft : drafts.keySet()) {
                Files.deleteIfExists(draft);
            }
        }
    }

    private int tell(Map<String, Long> files) throws IOException {
        long rows = files.values().stream().mapToLong(Long::longValue).sum();
        if (client.json()) {
            JsonNode all = Api.JSON.valueToTree(files);
            client.print(all);
            return ExitStatus.DONE;
        }
        Screen screen = client.screen();
        Table table = new Table("").prose("file").number("rows").number("bytes");
        int shown = 0;
        for (Map.Entry<String, Long> file : files.entrySet()) {
            if (shown++ < MOST_SHOWN) {
                table.row(
                        file.getKey(),
                        Screen.grouped(file.getValue()),
                        Screen.grouped(Files.size(folder.resolve(file.getKey()))));
            }
        }
        screen.table(table);
        if (shown > MOST_SHOWN) {
            screen.line("… and " + Screen.grouped(shown - MOST_SHOWN) + " more");
        }
        screen.line("\n" + Screen.count(files.size(), "file") + " below " + folder + ", " + Screen.count(rows, "row"));
        return ExitStatus.DONE;
    }
}
