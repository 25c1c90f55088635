package dev.hapster.core.find;

import dev.hapster.core.find.Finding.Trouble;
import dev.hapster.core.find.Listing.Entry;
import dev.hapster.core.reason.Reasons;
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
import java.util.Comparator;
import java.util.HashSet;
import java.util.List;
import java.util.Optional;
import java.util.Set;
import java.util.concurrent.atomic.AtomicInteger;
import java.util.regex.Matcher;
import java.util.regex.Pattern;

/**
 * Lists a folder and its subfolders to a depth, level by level, the folders of a level side by side. Links are followed
 * where they lead to somewhere inside the roots, and never to a folder that is searched already, so that there are no
 * circles. Used once.
 */
final class Walk {

    /** What stands in a name for bytes that are no text. */
    private static final char UNREADABLE = '\ufffd';

    private static final Pattern URI_BYTE = Pattern.compile("%([0-9A-F]{2})");

    /**
     * A folder to look into.
     *
     * @param real the same folder, with all links resolved
     * @param prefix its path below the top with a slash behind; empty for the top
     */
    private record Folder(Path path, Path real, String prefix, boolean linked) {}

    /** A link that leads to a folder inside the roots. */
    private record Link(Path path, Path target, String relative, BasicFileAttributes own) {}

    /** What lies in one folder. */
    private static final class Inside {
        private final List<Entry> entries = new ArrayList<>();
        private final List<Folder> folders = new ArrayList<>();
        private final List<Link> links = new ArrayList<>();
        private final List<Trouble> troubles = new ArrayList<>();
    }

    private final Path top;
    private final Roots roots;
    private final int most;
    private final AtomicInteger counted = new AtomicInteger();

    Walk(Path top, Roots roots, int most) {
        this.top = top;
        this.roots = roots;
        this.most = most;
    }

    /** Every file, sorted by nothing in particular; what could not be searched is added to {@code troubles}. */
    List<Entry> entries(int depth, List<Trouble> troubles) throws IOException {
        List<Entry> entries = new ArrayList<>();
        Set<Path> searched = new HashSet<>();
        List<Folder> level = List.of(new Folder(top, top.toRealPath(), "", false));
        for (int below = depth; !level.isEmpty(); below--) {
            level.forEach(folder -> searched.add(folder.real));
            List<Inside> all = level.parallelStream().map(this::look).toList();
            List<Folder> next = new ArrayList<>();
            for (Inside inside : all) {
                entries.addAll(inside.entries);
                troubles.addAll(inside.troubles);
                for (Folder folder : inside.folders) {
                    if (below > 0 && !(folder.linked && searched.contains(folder.real))) {
                        next.add(folder);
                    }
                }
            }
            follow(all, below, searched, next, entries);
            level = next;
        }
        if (counted.get() > most) {
            troubles.add(tooMany(top, most));
        }
        return entries;
    }

    static Trouble tooMany(Path top, int most) {
        return new Trouble(
                0,
                true,
                "the folder " + top + " holds more than " + Reasons.grouped(most)
                        + " entries; the search stopped there",
                "Name a folder further down, lower `depth`, or raise `scan_at_most`");
    }

    /**
     * Links come behind the folders of their level, so that a folder is searched under its own name where both are to
     * be had.
     */
    private static void follow(
            List<Inside> level, int below, Set<Path> searched, List<Folder> next, List<Entry> entries) {
        next.forEach(folder -> searched.add(folder.real));
        List<Link> links = new ArrayList<>();
        level.forEach(inside -> links.addAll(inside.links));
        links.sort(Comparator.comparing(Link::relative));
        for (Link link : links) {
            if (searched.contains(link.target)) {
                entries.add(entry(
                        link.path,
                        link.path,
                        link.relative,
                        link.own,
                        Optional.of("a link to a folder that is searched already")));
            } else if (below > 0) {
                searched.add(link.target);
                next.add(new Folder(link.path, link.target, link.relative + "/", true));
            }
        }
    }

    private Inside look(Folder folder) {
        Inside inside = new Inside();
        try (DirectoryStream<Path> paths = Files.newDirectoryStream(folder.path)) {
            for (Path path : paths) {
                if (counted.incrementAndGet() > most) {
                    return inside;
                }
                String name = path.getFileName().toString();
                if (name.indexOf(UNREADABLE) >= 0 && !folder.path.resolve(name).equals(path)) {
                    notText(folder, path, inside);
                    continue;
                }
                one(
                        path,
                        folder.linked ? folder.real.resolve(name) : path,
                        folder.prefix + name,
                        folder.linked,
                        inside);
            }
        } catch (DirectoryIteratorException wrong) {
            unreadable(folder.path, wrong.getCause(), inside);
        } catch (IOException wrong) {
            unreadable(folder.path, wrong, inside);
        }
        return inside;
    }

    /** A name of bytes that are no text: nobody could tell it from another one, so it is listed and not taken. */
    private static void notText(Folder folder, Path path, Inside inside) {
        String raw = path.toUri().getRawPath();
        String shown = raw.substring(raw.lastIndexOf('/', raw.length() - 2) + 1).replaceFirst("/$", "");
        String name = URI_BYTE.matcher(shown).replaceAll(b -> {
            int value = Integer.parseInt(b.group(1), 16);
            return Matcher.quoteReplacement(value < 0x80 ? String.valueOf((char) value) : "\\x" + b.group(1));
        });
        try {
            BasicFileAttributes attributes =
                    Files.readAttributes(path, BasicFileAttributes.class, LinkOption.NOFOLLOW_LINKS);
            inside.entries.add(entry(
                    path,
                    path,
                    folder.prefix + name,
                    attributes,
                    Optional.of("a name that is not UTF-8; rename it so that it can be told from others")));
        } catch (IOException gone) {
            return; // it went between the listing and the look
        }
    }

    private void one(Path path, Path real, String relative, boolean linked, Inside inside) {
        BasicFileAttributes attributes;
        try {
            attributes = Files.readAttributes(path, BasicFileAttributes.class, LinkOption.NOFOLLOW_LINKS);
        } catch (NoSuchFileException gone) {
            return; // it went between the listing and the look
        } catch (IOException wrong) {
            unreadable(path, wrong, inside);
            return;
        }
        if (attributes.isSymbolicLink()) {
            link(path, relative, attributes, inside);
        } else if (roots.own(path) || roots.own(real)) {
            return; // the store and the definitions are no files that arrive
        } else if (attributes.isDirectory()) {
            inside.folders.add(new Folder(path, real, relative + "/", linked));
        } else {
            inside.entries.add(entry(
                    path,
                    real,
                    relative,
                    attributes,
                    attributes.isRegularFile() ? Optional.empty() : Optional.of("no ordinary file")));
        }
    }

    private void link(Path path, String relative, BasicFileAttributes own, Inside inside) {
        String unusable;
        try {
            Path target = path.toRealPath();
            BasicFileAttributes attributes = Files.readAttributes(target, BasicFileAttributes.class);
            if (roots.holdReal(target) && attributes.isDirectory()) {
                inside.links.add(new Link(path, target, relative, own));
                return;
            }
            if (roots.holdReal(target) && attributes.isRegularFile()) {
                inside.entries.add(entry(path, target, relative, attributes, Optional.empty()));
                return;
            }
            unusable = roots.own(target)
                    ? "a link to what is Hapster's own"
                    : roots.holdReal(target) ? "no ordinary file" : "a link to " + target + ", outside the roots";
        } catch (FileSystemLoopException circle) {
            unusable = "a link that leads to itself";
        } catch (IOException broken) {
            unusable = "a link that leads nowhere";
        }
        inside.entries.add(entry(path, path, relative, own, Optional.of(unusable)));
    }

    static Entry entry(
            Path path, Path real, String relative, BasicFileAttributes attributes, Optional<String> unusable) {
        Instant modified = attributes.lastModifiedTime().toInstant();
        return new Entry(
                path,
                real.equals(path) ? path : real,
                relative,
                attributes.size(),
                modified,
                BirthTime.of(path, attributes),
                unusable);
    }

    private void unreadable(Path path, IOException wrong, Inside inside) {
        if (!(wrong instanceof NoSuchFileException)) {
            inside.troubles.add(new Trouble(
                    0,
                    path.equals(top),
                    path + " cannot be looked into: "
                            + (wrong instanceof AccessDeniedException
                                    ? "reading it is not allowed"
                                    : wrong.getMessage()),
                    "Give the service's account the right to read it"));
        }
    }
}
