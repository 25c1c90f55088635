package dev.hapster.service.remote;

import dev.hapster.core.definition.AccountDef;
import dev.hapster.core.definition.AccountDef.S3;
import dev.hapster.core.definition.AccountDef.Secret;
import dev.hapster.core.remote.RemoteChanged;
import dev.hapster.core.remote.RemoteFault;
import dev.hapster.core.remote.RemoteFile;
import dev.hapster.core.remote.RemoteFile.Kind;
import dev.hapster.core.remote.RemoteStore;
import java.io.FilterInputStream;
import java.io.IOException;
import java.io.InputStream;
import java.io.UncheckedIOException;
import java.nio.file.AccessDeniedException;
import java.nio.file.FileAlreadyExistsException;
import java.nio.file.NoSuchFileException;
import java.nio.file.Path;
import java.time.Duration;
import java.time.Instant;
import java.time.temporal.ChronoUnit;
import java.util.ArrayList;
import java.util.List;
import java.util.Optional;
import java.util.Set;
import java.util.function.Predicate;
import software.amazon.awssdk.auth.credentials.AnonymousCredentialsProvider;
import software.amazon.awssdk.auth.credentials.AwsBasicCredentials;
import software.amazon.awssdk.auth.credentials.AwsCredentialsProvider;
import software.amazon.awssdk.auth.credentials.AwsSessionCredentials;
import software.amazon.awssdk.auth.credentials.StaticCredentialsProvider;
import software.amazon.awssdk.core.ResponseInputStream;
import software.amazon.awssdk.core.checksums.RequestChecksumCalculation;
import software.amazon.awssdk.core.checksums.ResponseChecksumValidation;
import software.amazon.awssdk.core.exception.SdkClientException;
import software.amazon.awssdk.core.exception.SdkException;
import software.amazon.awssdk.core.sync.RequestBody;
import software.amazon.awssdk.http.urlconnection.UrlConnectionHttpClient;
import software.amazon.awssdk.regions.Region;
import software.amazon.awssdk.services.s3.S3Client;
import software.amazon.awssdk.services.s3.model.CompletedPart;
import software.amazon.awssdk.services.s3.model.GetObjectResponse;
import software.amazon.awssdk.services.s3.model.HeadObjectResponse;
import software.amazon.awssdk.services.s3.model.ListObjectsV2Response;
import software.amazon.awssdk.services.s3.model.S3Exception;
import software.amazon.awssdk.services.s3.model.S3Object;

/**
 * Buckets of an object store that speaks the S3 API. The first name of a path is the bucket, the others are the key.
 * Thread-safe.
 */
final class S3Store implements RemoteStore {

    private static final String OCTETS = "application/octet-stream";
    private static final Duration TO_CONNECT = Duration.ofSeconds(10);
    /** Objects up to this size are sent as one. */
    private static final long PART = 64L << 20;
    /** The API takes no more parts than this, and copies no larger object at once. */
    private static final int MOST_PARTS = 10_000;

    private static final long LARGEST_COPY = 5L << 30;
    private static final long PART_OF_COPY = 1L << 30;

    private static final int NOT_FOUND = 404;
    private static final int FORBIDDEN = 403;
    private static final int CONFLICT = 409;
    private static final int PRECONDITION_FAILED = 412;
    private static final int FIRST_OF_SERVER = 500;
    private static final int NOT_IMPLEMENTED = 501;
    private static final Set<String> SIGN_IN = Set.of(
            "InvalidAccessKeyId", "SignatureDoesNotMatch", "ExpiredToken", "InvalidToken", "TokenRefreshRequired");

    private final AccountDef account;
    private final S3 at;
    private final Path workspace;
    private S3Client client;

    S3Store(AccountDef account, S3 at, Path workspace) {
        this.account = account;
        this.at = at;
        this.workspace = workspace;
    }

    /** A bucket and a key in it; the key is empty where the bucket is meant. */
    private record Place(String bucket, String key) {
        static Place of(String path) {
            int slash = path.indexOf('/');
            return slash < 0 ? new Place(path, "") : new Place(path.substring(0, slash), path.substring(slash + 1));
        }
    }

    private interface Act<T> {
        T perform(S3Client client) throws IOException;
    }

    private <T> T with(String path, Act<T> act) throws IOException {
        try {
            return act.perform(client());
        } catch (S3Exception answer) {
            throw told(path, answer);
        } catch (UncheckedIOException wrong) {
            throw wrong.getCause();
        } catch (SdkClientException wrong) {
            throw lost(wrong);
        } catch (SdkException wrong) {
            throw new RemoteFault(
                    "The object store " + at + " did not do it with " + words(path) + ": " + wrong.getMessage(),
                    false,
                    wrong);
        }
    }

    private String words(String path) {
        return "s3://" + account.name() + "/" + path;
    }

    private RemoteFault lost(Exception wrong) {
        Throwable deepest = wrong;
        while (deepest.getCause() != null) {
            deepest = deepest.getCause();
        }
        String why = deepest instanceof java.net.UnknownHostException
                ? "no such host is known"
                : String.valueOf(deepest.getMessage());
        return new RemoteFault("The object store " + at + " cannot be reached: " + why, true, wrong);
    }

    private IOException told(String path, S3Exception answer) {
        String code = answer.awsErrorDetails() == null
                ? ""
                : String.valueOf(answer.awsErrorDetails().errorCode());
        if (SIGN_IN.contains(code)) {
            return new RemoteFault(
                    "The object store " + at + " does not accept the keys of the account '" + account.name() + "' ("
                            + code + "). Look at 'key_id' and 'secret_key'",
                    false,
                    answer);
        }
        if (answer.isThrottlingException() || answer.statusCode() >= FIRST_OF_SERVER) {
            return new RemoteFault(
                    "The object store " + at + " cannot do it now: " + code + " (" + answer.statusCode() + ")",
                    answer.statusCode() != NOT_IMPLEMENTED,
                    answer);
        }
        return switch (answer.statusCode()) {
            case NOT_FOUND -> new NoSuchFileException(words(path));
            case FORBIDDEN -> new AccessDeniedException(words(path));
            default ->
                new RemoteFault(
                        "The object store " + at + " did not do it with " + words(path) + ": " + code + " ("
                                + answer.statusCode() + ")",
                        false,
                        answer);
        };
    }

    private synchronized S3Client client() throws IOException {
        if (client == null) {
            client = S3Client.builder()
                    .httpClient(UrlConnectionHttpClient.builder()
                            .connectionTimeout(TO_CONNECT)
                            .socketTimeout(at.patience())
                            .build())
                    .region(Region.of(at.region()))
                    .credentialsProvider(credentials())
                    .forcePathStyle(at.pathStyle())
                    // what all stores speak, and not only the newest
                    .requestChecksumCalculation(RequestChecksumCalculation.WHEN_REQUIRED)
                    .responseChecksumValidation(ResponseChecksumValidation.WHEN_REQUIRED)
                    .applyMutation(builder -> at.endpoint().ifPresent(builder::endpointOverride))
                    .build();
        }
        return client;
    }

    private AwsCredentialsProvider credentials() throws RemoteFault {
        if (at.keyId().isEmpty()) {
            return AnonymousCredentialsProvider.create();
        }
        String key = secret(at.secretKey().orElseThrow(), "secret key");
        return StaticCredentialsProvider.create(
                at.sessionToken().isPresent()
                        ? AwsSessionCredentials.create(
                                at.keyId().get(), key, secret(at.sessionToken().get(), "session token"))
                        : AwsBasicCredentials.create(at.keyId().get(), key));
    }

    private String secret(Secret secret, String what) throws RemoteFault {
        return SftpSessions.secret(secret, what, account, workspace);
    }

    @Override
    public void list(String folder, int depth, Predicate<RemoteFile> each) throws IOException {
        if (folder.isEmpty()) {
            with(folder, store -> store.listBuckets().buckets().stream()
                    .allMatch(bucket -> each.test(folder(bucket.name()))));
            return;
        }
        Place place = Place.of(folder);
        String prefix = place.key.isEmpty() ? "" : place.key + "/";
        with(folder, store -> {
            String next = null;
            do {
                String token = next;
                ListObjectsV2Response page = store.listObjectsV2(request -> request.bucket(place.bucket)
                        .prefix(prefix)
                        .delimiter(depth == 0 ? "/" : null)
                        .continuationToken(token));
                if (!each(place.bucket, prefix, depth, page, each)) {
                    return false;
                }
                next = Boolean.TRUE.equals(page.isTruncated()) ? page.nextContinuationToken() : null;
            } while (next != null);
            return true;
        });
    }

    private static boolean each(
            String bucket, String prefix, int depth, ListObjectsV2Response page, Predicate<RemoteFile> each) {
        for (var common : page.commonPrefixes()) {
            String name = common.prefix().substring(0, common.prefix().length() - 1);
            if (!each.test(folder(bucket + "/" + name))) {
                return false;
            }
        }
        for (S3Object object : page.contents()) {
            String below = object.key().substring(prefix.length());
            boolean marksFolder = object.size() == 0 && (below.isEmpty() || below.endsWith("/"));
            boolean tooDeep = below.chars().filter(c -> c == '/').count() > depth;
            if (!marksFolder && !tooDeep && !each.test(file(bucket, object))) {
                return false;
            }
        }
        return true;
    }

    private static RemoteFile folder(String path) {
        return new RemoteFile(path, Kind.FOLDER, 0, Instant.EPOCH, "");
    }

    private static RemoteFile file(String bucket, S3Object object) {
        return new RemoteFile(
                bucket + "/" + object.key(), Kind.FILE, object.size(), time(object.lastModified()), tag(object.eTag()));
    }

    /** Some stores tell fractions of seconds in lists, and not where a single object is asked for. */
    private static Instant time(Instant modified) {
        return modified == null ? Instant.EPOCH : modified.truncatedTo(ChronoUnit.SECONDS);
    }

    private static String tag(String written) {
        return written == null ? "" : written.replace("\"", "");
    }

    @Override
    public Optional<RemoteFile> look(String path) throws IOException {
        if (path.isEmpty()) {
            return Optional.of(folder(path));
        }
        Place place = Place.of(path);
        try {
            return with(path, store -> {
                if (place.key.isEmpty()) {
                    store.headBucket(request -> request.bucket(place.bucket));
                    return Optional.of(folder(path));
                }
                HeadObjectResponse head =
                        store.headObject(request -> request.bucket(place.bucket).key(place.key));
                return Optional.of(new RemoteFile(
                        path, Kind.FILE, head.contentLength(), time(head.lastModified()), tag(head.eTag())));
            });
        } catch (NoSuchFileException nothing) {
            return place.key.isEmpty() ? Optional.empty() : above(path, place);
        }
    }

    /** A folder is there where something lies in it. */
    private Optional<RemoteFile> above(String path, Place place) throws IOException {
        try {
            boolean any = with(path, store -> !store.listObjectsV2(request ->
                            request.bucket(place.bucket).prefix(place.key + "/").maxKeys(1))
                    .contents()
                    .isEmpty());
            return any ? Optional.of(folder(path)) : Optional.empty();
        } catch (NoSuchFileException noBucket) {
            return Optional.empty();
        }
    }

    @Override
    public InputStream read(RemoteFile version, long from) throws IOException {
        if (from >= version.size()) {
            return InputStream.nullInputStream();
        }
        Place place = Place.of(version.path());
        try {
            ResponseInputStream<GetObjectResponse> content = client().getObject(request -> request.bucket(place.bucket)
                    .key(place.key)
                    .ifMatch(version.tag().isEmpty() ? null : version.tag())
                    .range(from == 0 ? null : "bytes=" + from + "-"));
            return new Content(content);
        } catch (S3Exception answer) {
            if (answer.statusCode() == PRECONDITION_FAILED) {
                throw new RemoteChanged(words(version.path()));
            }
            throw told(version.path(), answer);
        } catch (SdkClientException wrong) {
            throw lost(wrong);
        }
    }

    /** Content of an object on its way. */
    private final class Content extends FilterInputStream {
        private final ResponseInputStream<GetObjectResponse> content;
        private boolean ended;

        Content(ResponseInputStream<GetObjectResponse> content) {
            super(content);
            this.content = content;
        }

        @Override
        public int read(byte[] to, int offset, int length) throws IOException {
            try {
                int count = in.read(to, offset, length);
                ended |= count < 0;
                return count;
            } catch (IOException | SdkClientException wrong) {
                throw lost(wrong);
            }
        }

        @Override
        public void close() throws IOException {
            if (ended) {
                super.close();
            } else {
                content.abort(); // closing would read the rest first
            }
        }
    }

    @Override
    public void write(String path, Outgoing content, String draft, boolean replacing) throws IOException {
        Place place = Place.of(path);
        if (!replacing) {
            checkFree(path);
        }
        long size = content.size();
        if (size > PART) {
            inParts(path, place, upload -> sendParts(place, upload, content, size));
            return;
        }
        try {
            with(path, store -> put(store, place, content, size, replacing));
        } catch (RemoteFault wrong) {
            if (!(wrong.getCause() instanceof S3Exception answer) || replacing) {
                throw wrong;
            }
            if (answer.statusCode() == PRECONDITION_FAILED || answer.statusCode() == CONFLICT) {
                throw new FileAlreadyExistsException(words(path));
            }
            if (answer.statusCode() != NOT_IMPLEMENTED) {
                throw wrong;
            }
            with(path, store -> put(store, place, content, size, true)); // a store without conditions
        }
        boolean right = false;
        try {
            content.check();
            right = true;
        } finally {
            if (!right) {
                delete(path);
            }
        }
    }

    private static boolean put(S3Client store, Place place, Outgoing content, long size, boolean replacing) {
        store.putObject(
                request -> request.bucket(place.bucket).key(place.key).ifNoneMatch(replacing ? null : "*"),
                RequestBody.fromContentProvider(
                        () -> {
                            try {
                                return content.open();
                            } catch (IOException wrong) {
                                throw new UncheckedIOException(wrong);
                            }
                        },
                        size,
                        OCTETS));
        return true;
    }

    private void checkFree(String path) throws IOException {
        if (look(path).filter(RemoteFile::isRegularFile).isPresent()) {
            throw new FileAlreadyExistsException(words(path));
        }
    }

    private interface Sending {
        List<CompletedPart> send(String upload) throws IOException;
    }

    /** An object of several parts is there once all are, and not before. */
    private void inParts(String path, Place place, Sending sending) throws IOException {
        with(path, store -> {
            String upload = store.createMultipartUpload(
                            request -> request.bucket(place.bucket).key(place.key))
                    .uploadId();
            boolean whole = false;
            try {
                List<CompletedPart> parts = sending.send(upload);
                store.completeMultipartUpload(request -> request.bucket(place.bucket)
                        .key(place.key)
                        .uploadId(upload)
                        .multipartUpload(all -> all.parts(parts)));
                whole = true;
                return true;
            } finally {
                if (!whole) {
                    store.abortMultipartUpload(request ->
                            request.bucket(place.bucket).key(place.key).uploadId(upload));
                }
            }
        });
    }

    private List<CompletedPart> sendParts(Place place, String upload, Outgoing content, long size) throws IOException {
        List<CompletedPart> parts = new ArrayList<>();
        long each = Math.max(PART, size / (MOST_PARTS - 1) + 1);
        try (InputStream in = content.open()) {
            for (long from = 0; from < size; from += each) {
                long length = Math.min(each, size - from);
                int number = parts.size() + 1;
                String tag = client().uploadPart(
                                request -> request.bucket(place.bucket)
                                        .key(place.key)
                                        .uploadId(upload)
                                        .partNumber(number),
                                RequestBody.fromInputStream(in, length))
                        .eTag();
                parts.add(CompletedPart.builder().partNumber(number).eTag(tag).build());
            }
        }
        content.check();
        return parts;
    }

    @Override
    public void clean(String path, String draft) {
        // nothing is there before it is whole
    }

    @Override
    public boolean rename(RemoteFile file, String to) throws IOException {
        copy(file, to);
        if (look(file.path()).filter(file::isSameVersion).isEmpty()) {
            throw new RemoteChanged(words(file.path())); // what is there now, nobody has read
        }
        delete(file.path());
        return true;
    }

    @Override
    public boolean copy(RemoteFile file, String to) throws IOException {
        checkFree(to);
        Place source = Place.of(file.path());
        Place target = Place.of(to);
        if (file.size() > LARGEST_COPY) {
            inParts(to, target, upload -> copyParts(source, target, upload, file));
        } else {
            with(
                    file.path(),
                    store -> store.copyObject(request -> request.sourceBucket(source.bucket)
                            .sourceKey(source.key)
                            .copySourceIfMatch(file.tag().isEmpty() ? null : file.tag())
                            .destinationBucket(target.bucket)
                            .destinationKey(target.key)));
        }
        return true;
    }

    private List<CompletedPart> copyParts(Place source, Place target, String upload, RemoteFile file)
            throws IOException {
        List<CompletedPart> parts = new ArrayList<>();
        for (long from = 0; from < file.size(); from += PART_OF_COPY) {
            long start = from;
            int number = parts.size() + 1;
            String tag = client().uploadPartCopy(request -> request.sourceBucket(source.bucket)
                            .sourceKey(source.key)
                            .copySourceIfMatch(file.tag())
                            .copySourceRange("bytes=" + start + "-" + (Math.min(start + PART_OF_COPY, file.size()) - 1))
                            .destinationBucket(target.bucket)
                            .destinationKey(target.key)
                            .uploadId(upload)
                            .partNumber(number))
                    .copyPartResult()
                    .eTag();
            parts.add(CompletedPart.builder().partNumber(number).eTag(tag).build());
        }
        return parts;
    }

    @Override
    public void delete(String path) throws IOException {
        Place place = Place.of(path);
        with(
                path,
                store -> store.deleteObject(
                        request -> request.bucket(place.bucket).key(place.key)));
    }

    @Override
    public boolean hasOnlyFiles() {
        return true;
    }

    @Override
    public void rest() {
        // its connections are short
    }

    @Override
    public synchronized void close() {
        if (client != null) {
            client.close();
        }
    }
}
