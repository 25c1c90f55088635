package dev.hapster.demo.elsewhere;

import com.sun.net.httpserver.Headers;
import com.sun.net.httpserver.HttpExchange;
import com.sun.net.httpserver.HttpServer;
import java.io.ByteArrayOutputStream;
import java.io.EOFException;
import java.io.IOException;
import java.io.InputStream;
import java.net.InetAddress;
import java.net.InetSocketAddress;
import java.net.URLDecoder;
import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.Path;
import java.nio.file.StandardCopyOption;
import java.security.MessageDigest;
import java.security.NoSuchAlgorithmException;
import java.time.Instant;
import java.time.ZoneOffset;
import java.time.format.DateTimeFormatter;
import java.util.HexFormat;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.Optional;
import java.util.TreeMap;
import java.util.concurrent.ExecutorService;
import java.util.concurrent.Executors;
import java.util.function.Predicate;
import java.util.stream.Stream;

/**
 * An object store that speaks as much of the S3 API as reading, writing, moving and deleting whole objects takes: no
 * upload in parts, and no rights. It lets in one key, by its number alone, and answers this machine alone.
 */
final class ObjectStandIn implements AutoCloseable {

    static final String KEY_ID = "hapster-demo";

    private static final DateTimeFormatter HTTP_DATE = DateTimeFormatter.ofPattern(
                    "EEE, dd MMM yyyy HH:mm:ss 'GMT'", Locale.ROOT)
            .withZone(ZoneOffset.UTC);
    private static final int MOST_LISTED = 1000;
    private static final String XML = "<?xml version=\"1.0\" encoding=\"UTF-8\"?>";

    private final HttpServer server;
    private final ExecutorService threads;
    /** Each bucket is a folder in it, and each object a file. */
    private final Path folder;

    private ObjectStandIn(HttpServer server, ExecutorService threads, Path folder) {
        this.server = server;
        this.threads = threads;
        this.folder = folder;
    }

    static ObjectStandIn start(Path folder) throws IOException {
        HttpServer server = HttpServer.create(new InetSocketAddress(InetAddress.getLoopbackAddress(), 0), 0);
        ExecutorService threads = Executors.newFixedThreadPool(8, work -> {
            Thread thread = new Thread(work, "objects");
            thread.setDaemon(true);
            return thread;
        });
        server.setExecutor(threads);
        ObjectStandIn store = new ObjectStandIn(
                server, threads, Files.createDirectories(folder).toRealPath());
        server.createContext("/", store::answer);
        server.start();
        return store;
    }

    int port() {
        return server.getAddress().getPort();
    }

    /** What keeps a call from being answered, as the API names it. */
    private static final class Fault extends Exception {
        final int status;
        final String code;

        Fault(int status, String code) {
            super(code);
            this.status = status;
            this.code = code;
        }
    }

    private void answer(HttpExchange call) throws IOException {
        try (call) {
            try {
                perform(call);
            } catch (Fault wrong) {
                boolean head = call.getRequestMethod().equals("HEAD");
                send(call, wrong.status, head ? "" : XML + "<Error><Code>" + wrong.code + "</Code></Error>");
            }
        }
    }

    private void perform(HttpExchange call) throws Fault, IOException {
        String credential = "Credential=" + KEY_ID + "/";
        if (!Optional.ofNullable(call.getRequestHeaders().getFirst("Authorization"))
                .orElse("")
                .contains(credential)) {
            throw new Fault(403, "InvalidAccessKeyId");
        }
        String path = URLDecoder.decode(call.getRequestURI().getRawPath().replace("+", "%2B"), StandardCharsets.UTF_8)
                .substring(1);
        int slash = path.indexOf('/');
        String bucket = slash < 0 ? path : path.substring(0, slash);
        String key = slash < 0 ? "" : path.substring(slash + 1);
        if (path.isEmpty()) {
            buckets(call);
            return;
        }
        if (bucket.isEmpty() || !Files.isDirectory(inside(bucket))) {
            throw new Fault(404, "NoSuchBucket");
        }
        if (key.isEmpty()) {
            ofBucket(call, bucket);
        } else {
            ofObject(call, inside(bucket + "/" + key));
        }
    }

    private void buckets(HttpExchange call) throws IOException {
        StringBuilder xml = new StringBuilder(XML + "<ListAllMyBucketsResult><Buckets>");
        try (Stream<Path> all = Files.list(folder)) {
            for (Path bucket : all.filter(Files::isDirectory).sorted().toList()) {
                xml.append("<Bucket><Name>")
                        .append(escaped(bucket.getFileName().toString()))
                        .append("</Name><CreationDate>")
                        .append(modified(bucket))
                        .append("</CreationDate></Bucket>");
            }
        }
        send(call, 200, xml + "</Buckets></ListAllMyBucketsResult>");
    }

    private void ofBucket(HttpExchange call, String bucket) throws Fault, IOException {
        switch (call.getRequestMethod()) {
            case "HEAD" -> send(call, 200, "");
            case "GET" -> list(call, inside(bucket), parameters(call));
            default -> throw new Fault(501, "NotImplemented");
        }
    }

    private void ofObject(HttpExchange call, Path file) throws Fault, IOException {
        switch (call.getRequestMethod()) {
            case "HEAD", "GET" -> read(call, file);
            case "PUT" -> write(call, file);
            case "DELETE" -> {
                Files.deleteIfExists(file);
                send(call, 204, "");
            }
            default -> throw new Fault(501, "NotImplemented");
        }
    }

    /** A place in the store; whoever asks for one outside of it asks for what is not there. */
    private Path inside(String path) throws Fault {
        Path place = folder.resolve(path).normalize();
        if (!place.startsWith(folder) || place.equals(folder)) {
            throw new Fault(404, "NoSuchKey");
        }
        return place;
    }

    private static Map<String, String> parameters(HttpExchange call) {
        Map<String, String> parameters = new TreeMap<>();
        String query = call.getRequestURI().getRawQuery();
        for (String pair : query == null ? new String[0] : query.split("&")) {
            int equals = pair.indexOf('=');
            String name = equals < 0 ? pair : pair.substring(0, equals);
            parameters.put(
                    name, equals < 0 ? "" : URLDecoder.decode(pair.substring(equals + 1), StandardCharsets.UTF_8));
        }
        return parameters;
    }

    private void list(HttpExchange call, Path bucket, Map<String, String> asked) throws IOException {
        String prefix = asked.getOrDefault("prefix", "");
        String after = asked.getOrDefault("continuation-token", "");
        String delimiter = asked.getOrDefault("delimiter", "");
        int most = Math.min(MOST_LISTED, Integer.parseInt(asked.getOrDefault("max-keys", "1000")));
        Map<String, Path> found = new TreeMap<>(); // what is behind a delimiter is one entry, with no file
        try (Stream<Path> all = Files.walk(bucket)) {
            all.filter(Files::isRegularFile)
                    .filter(Predicate.not(file -> file.getFileName().toString().startsWith(".")))
                    .forEach(file -> {
                        String key = bucket.relativize(file).toString();
                        if (key.startsWith(prefix)) {
                            int end = delimiter.isEmpty() ? -1 : key.indexOf(delimiter, prefix.length());
                            found.put(end < 0 ? key : key.substring(0, end + 1), end < 0 ? file : bucket);
                        }
                    });
        }
        List<String> keys = found.keySet().stream()
                .filter(key -> key.compareTo(after) > 0)
                .limit(most + 1L)
                .toList();
        boolean more = keys.size() > most;
        List<String> page = more ? keys.subList(0, most) : keys;
        StringBuilder xml = new StringBuilder(XML + "<ListBucketResult>");
        for (String key : page) {
            Path file = found.get(key);
            xml.append(
                    file.equals(bucket)
                            ? "<CommonPrefixes><Prefix>" + escaped(key) + "</Prefix></CommonPrefixes>"
                            : "<Contents><Key>" + escaped(key) + "</Key><LastModified>" + modified(file)
                                    + "</LastModified><ETag>" + escaped(tag(file)) + "</ETag><Size>" + Files.size(file)
                                    + "</Size></Contents>");
        }
        xml.append("<KeyCount>")
                .append(page.size())
                .append("</KeyCount><IsTruncated>")
                .append(more)
                .append("</IsTruncated>");
        if (more) {
            xml.append("<NextContinuationToken>")
                    .append(escaped(page.get(page.size() - 1)))
                    .append("</NextContinuationToken>");
        }
        send(call, 200, xml + "</ListBucketResult>");
    }

    private static Instant modified(Path file) throws IOException {
        return Files.getLastModifiedTime(file).toInstant();
    }

    private static String escaped(String text) {
        return text.replace("&", "&amp;")
                .replace("<", "&lt;")
                .replace(">", "&gt;")
                .replace("\"", "&quot;");
    }

    private static String tag(Path file) throws IOException {
        return '"' + HexFormat.of().formatHex(md5(Files.readAllBytes(file))) + '"';
    }

    private static byte[] md5(byte[] bytes) {
        try {
            return MessageDigest.getInstance("MD5").digest(bytes);
        } catch (NoSuchAlgorithmException missing) {
            throw new IllegalStateException(missing); // every Java has it
        }
    }

    /** Whether somebody wants another version; tags come with and without quotes. */
    private static boolean isOther(String expected, String tag) {
        return expected != null && !expected.replace("\"", "").equals(tag.replace("\"", ""));
    }

    private static void read(HttpExchange call, Path file) throws Fault, IOException {
        if (!Files.isRegularFile(file)) {
            throw new Fault(404, "NoSuchKey");
        }
        byte[] content = Files.readAllBytes(file);
        String tag = '"' + HexFormat.of().formatHex(md5(content)) + '"';
        String expected = call.getRequestHeaders().getFirst("If-Match");
        if (isOther(expected, tag)) {
            throw new Fault(412, "PreconditionFailed");
        }
        Headers headers = call.getResponseHeaders();
        headers.set("ETag", tag);
        headers.set("Last-Modified", HTTP_DATE.format(modified(file)));
        headers.set("Content-Type", "application/octet-stream");
        String range = call.getRequestHeaders().getFirst("Range");
        int from = range == null ? 0 : Integer.parseInt(range.replaceFirst("^bytes=(\\d+)-.*$", "$1"));
        if (from > 0 && from >= content.length) {
            throw new Fault(416, "InvalidRange");
        }
        int length = content.length - from;
        if (call.getRequestMethod().equals("HEAD")) {
            headers.set("Content-Length", String.valueOf(length));
            call.sendResponseHeaders(200, -1);
            return;
        }
        if (from > 0) {
            headers.set("Content-Range", "bytes " + from + "-" + (content.length - 1) + "/" + content.length);
        }
        call.sendResponseHeaders(from > 0 ? 206 : 200, length == 0 ? -1 : length);
        call.getResponseBody().write(content, from, length);
    }

    private void write(HttpExchange call, Path file) throws Fault, IOException {
        if (parameters(call).containsKey("uploadId")) {
            throw new Fault(501, "NotImplemented");
        }
        Headers asked = call.getRequestHeaders();
        if ("*".equals(asked.getFirst("If-None-Match")) && Files.exists(file)) {
            throw new Fault(412, "PreconditionFailed");
        }
        String source = asked.getFirst("x-amz-copy-source");
        byte[] content;
        if (source == null) {
            content = "aws-chunked".equals(asked.getFirst("Content-Encoding"))
                            || asked.containsKey("x-amz-decoded-content-length")
                    ? unchunked(call.getRequestBody())
                    : call.getRequestBody().readAllBytes();
        } else {
            Path from = inside(URLDecoder.decode(source, StandardCharsets.UTF_8).replaceFirst("^/", ""));
            if (!Files.isRegularFile(from)) {
                throw new Fault(404, "NoSuchKey");
            }
            String expected = asked.getFirst("x-amz-copy-source-if-match");
            if (isOther(expected, tag(from))) {
                throw new Fault(412, "PreconditionFailed");
            }
            content = Files.readAllBytes(from);
        }
        Files.createDirectories(file.getParent());
        Path draft = Files.createTempFile(file.getParent(), ".", ".new");
        Files.write(draft, content);
        Files.move(draft, file, StandardCopyOption.REPLACE_EXISTING, StandardCopyOption.ATOMIC_MOVE);
        String tag = tag(file);
        call.getResponseHeaders().set("ETag", tag);
        send(
                call,
                200,
                source == null
                        ? ""
                        : XML + "<CopyObjectResult><ETag>" + escaped(tag) + "</ETag><LastModified>" + modified(file)
                                + "</LastModified></CopyObjectResult>");
    }

    /** A body that was sent in signed pieces: {@code SIZE;chunk-signature=…}, the bytes, and so on up to size 0. */
    private static byte[] unchunked(InputStream body) throws IOException {
        ByteArrayOutputStream content = new ByteArrayOutputStream();
        while (true) {
            StringBuilder head = new StringBuilder();
            for (int next = body.read(); next != '\n'; next = body.read()) {
                if (next < 0) {
                    throw new EOFException("The body ends within a piece");
                }
                head.append((char) next);
            }
            int size = Integer.parseInt(head.toString().strip().replaceFirst(";.*$", ""), 16);
            if (size == 0) {
                body.readAllBytes();
                return content.toByteArray();
            }
            content.write(body.readNBytes(size));
            body.skipNBytes(2);
        }
    }

    private static void send(HttpExchange call, int status, String xml) throws IOException {
        byte[] bytes = xml.getBytes(StandardCharsets.UTF_8);
        if (bytes.length > 0) {
            call.getResponseHeaders().set("Content-Type", "application/xml");
        }
        call.sendResponseHeaders(status, bytes.length == 0 ? -1 : bytes.length);
        call.getResponseBody().write(bytes);
    }

    @Override
    public void close() {
        server.stop(0);
        threads.shutdown();
    }
}
