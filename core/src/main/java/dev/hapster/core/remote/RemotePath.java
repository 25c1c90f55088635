package dev.hapster.core.remote;

import java.io.IOException;
import java.net.URI;
import java.net.URISyntaxException;
import java.nio.file.FileSystem;
import java.nio.file.InvalidPathException;
import java.nio.file.LinkOption;
import java.nio.file.Path;
import java.nio.file.ProviderMismatchException;
import java.nio.file.WatchEvent;
import java.nio.file.WatchKey;
import java.nio.file.WatchService;
import java.util.ArrayList;
import java.util.Arrays;
import java.util.Collections;
import java.util.List;
import java.util.Objects;
import java.util.Optional;
import java.util.regex.Matcher;
import java.util.regex.Pattern;

/**
 * A path on another machine. Written {@code sftp://account/in/a.csv}; where it is relative, without the part that names
 * the account. Names are as the server has them: nothing in them is escaped. Immutable.
 */
public final class RemotePath implements Path {

    private static final Pattern FORM = Pattern.compile("(sftp|s3)://([^/]*)(?:/(.*))?", Pattern.DOTALL);
    private static final Pattern BEGINNING = Pattern.compile("[A-Za-z][A-Za-z0-9+.-]+://.*", Pattern.DOTALL);

    private final RemoteFileSystem system;
    /** Such as {@code sftp://account}; empty for a relative path. */
    private final String account;

    private final List<String> names;
    private final Optional<RemoteFile> listed;

    private RemotePath(RemoteFileSystem system, String account, List<String> names, Optional<RemoteFile> listed) {
        this.system = system;
        this.account = account;
        this.names = List.copyOf(names);
        this.listed = listed;
    }

    /** Whether a text is the address of something on another machine, or looks like one. */
    static boolean isAddress(String text) {
        return BEGINNING.matcher(text).matches();
    }

    /** @throws InvalidPathException with a sentence for people */
    static RemotePath of(RemoteFileSystem system, String text) {
        Matcher form = FORM.matcher(text);
        if (!form.matches()) {
            throw new InvalidPathException(
                    text, "folders elsewhere are written sftp://ACCOUNT/PATH or s3://ACCOUNT/BUCKET/PATH");
        }
        if (form.group(2).isEmpty()) {
            throw new InvalidPathException(text, "the account is missing behind " + form.group(1) + "://");
        }
        return new RemotePath(
                system,
                form.group(1) + "://" + form.group(2),
                split(text, Optional.ofNullable(form.group(3)).orElse("")),
                Optional.empty());
    }

    /** @param text names with {@code /} between them */
    static RemotePath relative(RemoteFileSystem system, String text) {
        return new RemotePath(system, "", split(text, text), Optional.empty());
    }

    private static List<String> split(String whole, String text) {
        if (text.indexOf('\0') >= 0) {
            throw new InvalidPathException(whole, "a name holds the character NUL");
        }
        return Arrays.stream(text.split("/")).filter(name -> !name.isEmpty()).toList();
    }

    /** How it is reached: {@code sftp} or {@code s3}. */
    public String scheme() {
        return account.substring(0, account.indexOf(':'));
    }

    /** The name of the account. */
    public String account() {
        return account.substring(account.indexOf("//") + 2);
    }

    /** Its path below the account's top, as {@link RemoteStore} takes it. */
    public String below() {
        return String.join("/", names);
    }

    /** What its server told of it when it was listed; empty where it comes from elsewhere. */
    public Optional<RemoteFile> listed() {
        return listed;
    }

    /** A file that was listed below this folder. */
    public RemotePath at(RemoteFile file) {
        return new RemotePath(system, account, List.of(file.path().split("/", -1)), Optional.of(file));
    }

    RemoteFileSystem system() {
        return system;
    }

    private RemotePath with(String top, List<String> others) {
        return new RemotePath(system, top, others, Optional.empty());
    }

    private static RemotePath same(Path other) {
        if (other instanceof RemotePath path) {
            return path;
        }
        throw new ProviderMismatchException();
    }

    @Override
    public FileSystem getFileSystem() {
        return system;
    }

    @Override
    public boolean isAbsolute() {
        return !account.isEmpty();
    }

    @Override
    public Path getRoot() {
        return isAbsolute() ? with(account, List.of()) : null;
    }

    @Override
    public Path getFileName() {
        return names.isEmpty() ? null : with("", names.subList(names.size() - 1, names.size()));
    }

    @Override
    public Path getParent() {
        return names.isEmpty() || (names.size() == 1 && !isAbsolute())
                ? null
                : with(account, names.subList(0, names.size() - 1));
    }

    @Override
    public int getNameCount() {
        return names.size();
    }

    @Override
    public Path getName(int index) {
        return subpath(index, index + 1);
    }

    @Override
    public Path subpath(int beginIndex, int endIndex) {
        return with("", names.subList(beginIndex, endIndex));
    }

    @Override
    public boolean startsWith(Path other) {
        return other instanceof RemotePath path
                && path.account.equals(account)
                && path.names.size() <= names.size()
                && names.subList(0, path.names.size()).equals(path.names);
    }

    @Override
    public boolean endsWith(Path other) {
        return other instanceof RemotePath path
                && (path.isAbsolute()
                        ? path.equals(this)
                        : Collections.indexOfSubList(names, path.names) >= 0
                                && names.size() >= path.names.size()
                                && names.subList(names.size() - path.names.size(), names.size())
                                        .equals(path.names));
    }

    @Override
    public RemotePath normalize() {
        List<String> kept = new ArrayList<>();
        for (String name : names) {
            if (name.equals("..")
                    && !kept.isEmpty()
                    && !kept.get(kept.size() - 1).equals("..")) {
                kept.remove(kept.size() - 1);
            } else if (!name.equals(".") && !(name.equals("..") && isAbsolute())) {
                kept.add(name);
            }
        }
        return kept.equals(names) ? this : with(account, kept);
    }

    @Override
    public Path resolve(Path other) {
        RemotePath path = same(other);
        if (path.isAbsolute() || (names.isEmpty() && !isAbsolute())) {
            return path;
        }
        List<String> all = new ArrayList<>(names);
        all.addAll(path.names);
        return with(account, all);
    }

    @Override
    public Path resolve(String other) {
        return isAddress(other) ? of(system, other) : resolve(with("", split(other, other)));
    }

    @Override
    public Path relativize(Path other) {
        RemotePath path = same(other);
        if (!path.account.equals(account)) {
            throw new IllegalArgumentException(other + " does not lie with " + this);
        }
        int common = 0;
        while (common < names.size()
                && common < path.names.size()
                && names.get(common).equals(path.names.get(common))) {
            common++;
        }
        List<String> steps = new ArrayList<>(Collections.nCopies(names.size() - common, ".."));
        steps.addAll(path.names.subList(common, path.names.size()));
        return with("", steps);
    }

    @Override
    public URI toUri() {
        try {
            return new URI(scheme(), account(), "/" + below(), null);
        } catch (URISyntaxException wrong) {
            throw new IllegalStateException(this + " cannot be written as a URI", wrong);
        }
    }

    @Override
    public Path toAbsolutePath() {
        if (!isAbsolute()) {
            throw new IllegalStateException(this + " does not say on which machine it lies");
        }
        return this;
    }

    /** The same without {@code .} and {@code ..}: what links lead to is the server's matter. */
    @Override
    public Path toRealPath(LinkOption... options) throws IOException {
        return ((RemotePath) toAbsolutePath()).normalize();
    }

    @Override
    public WatchKey register(WatchService watcher, WatchEvent.Kind<?>[] events, WatchEvent.Modifier... modifiers) {
        throw new UnsupportedOperationException("Servers do not tell of changes");
    }

    @Override
    public int compareTo(Path other) {
        return toString().compareTo(other.toString());
    }

    @Override
    public boolean equals(Object other) {
        return other instanceof RemotePath path
                && path.system == system
                && path.account.equals(account)
                && path.names.equals(names);
    }

    @Override
    public int hashCode() {
        return Objects.hash(account, names);
    }

    @Override
    public String toString() {
        return isAbsolute() ? account + "/" + below() : below();
    }
}
