package dev.hapster.core.find;

import dev.hapster.core.find.Finding.Trouble;
import dev.hapster.core.find.Listing.Entry;
import java.io.IOException;
import java.nio.file.AccessDeniedException;
import java.nio.file.DirectoryIteratorException;
import java.nio.file.DirectoryStream;
import java.nio.file.FileSystemLoopException;
import java.nio.file.Files;
import java.nio.file.LinkOption;
import java.nio.file.NoSuchFileException;
import java.nio.file.Path;
import java.nio.file.attribute.BasicFileAttributes;
import java.time.Instant;
import java.util.ArrayList;
import java.util.HashSet;
import java.util.List;
import java.util.Optional;
import java.util.Set;

/**
 * Lists a folder and its subfolders to a depth. Links are followed where they lead to somewhere inside the roots, and never to a folder
 * that is searched already, so that there are no circles. Not thread-safe.
 */
final class Walk {

    private final Path top;
    private final Roots roots;
    private final int most;
    private final List<Trouble> troubles;
    private final List<Entry> entries = new ArrayList<>();
    /** Folders that were searched, with all links resolved. */
    private final Set<Path> searched = new HashSet<>();
    private int counted;

    Walk(Path top, Roots roots, int most, List<Trouble> troubles) {
        this.top = top;
        this.roots = roots;
        this.most = most;
        this.troubles = troubles;
    }

    List<Entry> entries(int depth) throws IOException {
        folder(top, top.toRealPath(), "", depth);
        return entries;
    }

    /** @param real the same folder, with all links resolved */
    private void folder(Path folder, Path real, String prefix, int depth) {
        searched.add(real);
        boolean linked = !folder.equals(real);
        try (DirectoryStream<Path> inside = Files.newDirectoryStream(folder)) {
            for (Path path : inside) {
                if (++counted > most) {
                    if (counted == most + 1) {
                        troubles.add(new Trouble(0, true, "the folder " + top + " holds more than " + grouped(most) + " entries; the search stopped there",
                                "Name a folder further down, lower `depth`, or raise `scan_at_most`"));
                    }
                    return;
                }
                String name = path.getFileName().toString();
                one(path, linked ? real.resolve(name) : path, prefix + name, depth);
            }
        } catch (DirectoryIteratorException wrong) {
            unreadable(folder, wrong.getCause());
        } catch (IOException wrong) {
            unreadable(folder, wrong);
        }
    }

    private void one(Path path, Path real, String relative, int depth) {
        BasicFileAttributes attributes;
        try {
            attributes = Files.readAttributes(path, BasicFileAttributes.class, LinkOption.NOFOLLOW_LINKS);
        } catch (NoSuchFileException gone) {
            return; // it went between the listing and the look
        } catch (IOException wrong) {
            unreadable(path, wrong);
            return;
        }
        if (attributes.isSymbolicLink()) {
            link(path, relative, attributes, depth);
        } else if (attributes.isDirectory()) {
            if (depth > 0) {
                folder(path, real, relative + "/", depth - 1);
            }
        } else {
            add(path, real, relative, attributes, attributes.isRegularFile() ? Optional.empty() : Optional.of("no ordinary file"));
        }
    }

    private void link(Path path, String relative, BasicFileAttributes own, int depth) {
        try {
            Path target = path.toRealPath();
            BasicFileAttributes attributes = Files.readAttributes(target, BasicFileAttributes.class);
            if (!roots.holdReal(target)) {
                add(path, path, relative, own, Optional.of("a link to " + target + ", outside the roots"));
            } else if (!attributes.isDirectory()) {
                add(path, target, relative, attributes, attributes.isRegularFile() ? Optional.empty() : Optional.of("no ordinary file"));
            } else if (searched.contains(target)) {
                add(path, path, relative, own, Optional.of("a link to a folder that is searched already"));
            } else if (depth > 0) {
                folder(path, target, relative + "/", depth - 1);
            }
        } catch (FileSystemLoopException circle) {
            add(path, path, relative, own, Optional.of("a link that leads to itself"));
        } catch (IOException broken) {
            add(path, path, relative, own, Optional.of("a link that leads nowhere"));
        }
    }

    private void add(Path path, Path real, String relative, BasicFileAttributes attributes, Optional<String> unusable) {
        entries.add(entry(path, real, relative, attributes, unusable));
    }

    static Entry entry(Path path, Path real, String relative, BasicFileAttributes attributes, Optional<String> unusable) {
        Instant modified = attributes.lastModifiedTime().toInstant();
        return new Entry(path, real.equals(path) ? path : real, relative, attributes.size(), modified, BirthTimes.of(path, attributes), unusable);
    }

    private void unreadable(Path path, IOException wrong) {
        if (!(wrong instanceof NoSuchFileException)) {
            troubles.add(new Trouble(0, path.equals(top), path + " cannot be looked into: "
                    + (wrong instanceof AccessDeniedException ? "reading it is not allowed" : wrong.getMessage()),
                    "Give the service's account the right to read it"));
        }
    }

    private static String grouped(int number) {
        return String.format(java.util.Locale.ROOT, "%,d", number).replace(',', ' ');
    }
}
