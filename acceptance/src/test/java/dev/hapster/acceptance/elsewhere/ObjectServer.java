package dev.hapster.acceptance.elsewhere;

import java.io.ByteArrayInputStream;
import java.io.IOException;
import java.io.InputStream;
import java.net.URI;
import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.Map;
import java.util.Properties;
import java.util.TreeMap;
import org.gaul.s3proxy.AuthenticationType;
import org.gaul.s3proxy.S3Proxy;
import org.jclouds.ContextBuilder;
import org.jclouds.blobstore.BlobStore;
import org.jclouds.blobstore.BlobStoreContext;
import org.jclouds.blobstore.domain.Blob;
import org.jclouds.blobstore.domain.StorageMetadata;
import org.jclouds.blobstore.options.ListContainerOptions;

/** An object store that speaks the S3 API, in this process, with the bucket {@code river}. */
public final class ObjectServer extends Machine {

    public static final String BUCKET = "river";
    private static final String KEY_ID = "vessa";

    private final S3Proxy proxy;
    private final BlobStoreContext context;
    private final Path secret;

    private ObjectServer(Path folder, S3Proxy proxy, BlobStoreContext context) throws IOException {
        super(folder, proxy.getPort());
        this.proxy = proxy;
        this.context = context;
        secret = Files.writeString(folder.resolve("secret"), "only-here");
    }

    public static ObjectServer start(Path folder) throws Exception {
        return start(folder, "transient-nio2", new Properties());
    }

    /** One that keeps its objects in a folder, for more of them than there is memory for. */
    public static ObjectServer onDisk(Path folder) throws Exception {
        Properties place = new Properties();
        place.setProperty(
                "jclouds.filesystem.basedir",
                Files.createDirectories(folder.resolve("buckets")).toString());
        return start(folder, "filesystem", place);
    }

    private static ObjectServer start(Path folder, String kind, Properties place) throws Exception {
        BlobStoreContext context = ContextBuilder.newBuilder(kind)
                .credentials("nobody", "nothing")
                .overrides(place)
                .build(BlobStoreContext.class);
        context.getBlobStore().createContainerInLocation(null, BUCKET);
        S3Proxy proxy = S3Proxy.builder()
                .blobStore(context.getBlobStore())
                .endpoint(URI.create("http://127.0.0.1:0"))
                .awsAuthentication(AuthenticationType.AWS_V4, KEY_ID, "only-here")
                .build();
        proxy.start();
        return new ObjectServer(Files.createDirectories(folder), proxy, context);
    }

    private BlobStore blobs() {
        return context.getBlobStore();
    }

    @Override
    public String account() {
        return accountWith(KEY_ID);
    }

    public String endpoint() {
        return "http://127.0.0.1:" + port();
    }

    public String keyId() {
        return KEY_ID;
    }

    public String secretKey() {
        return "only-here";
    }

    public String accountWith(String keyId) {
        return "  - name: archive\n    s3: {endpoint: \"http://127.0.0.1:" + port() + "\", key_id: " + keyId
                + ", secret_key: {file: " + secret + "}, patience: 2s}\n";
    }

    @Override
    public String address(String path) {
        return "s3://archive/" + BUCKET + "/" + path;
    }

    @Override
    public void put(String path, byte[] content) {
        blobs().putBlob(
                        BUCKET,
                        blobs().blobBuilder(path)
                                .payload(new ByteArrayInputStream(content))
                                .contentLength(content.length)
                                .build());
    }

    @Override
    public void put(String path, Path file) throws IOException {
        blobs().putBlob(
                        BUCKET,
                        blobs().blobBuilder(path)
                                .payload(file.toFile())
                                .contentLength(Files.size(file))
                                .build());
    }

    @Override
    public void delete(String path) {
        blobs().removeBlob(BUCKET, path);
    }

    @Override
    public Map<String, String> files() throws Exception {
        Map<String, String> files = new TreeMap<>();
        for (StorageMetadata one : blobs().list(BUCKET, ListContainerOptions.Builder.recursive())) {
            Blob blob = blobs().getBlob(BUCKET, one.getName());
            if (blob != null) {
                try (InputStream in = blob.getPayload().openStream()) {
                    files.put(one.getName(), new String(in.readAllBytes(), StandardCharsets.UTF_8));
                }
            }
        }
        return files;
    }

    @Override
    public void close() {
        super.close();
        try {
            proxy.stop();
        } catch (Exception wrong) { // that is what it throws
            throw new IllegalStateException(wrong);
        }
        context.close();
    }
}
