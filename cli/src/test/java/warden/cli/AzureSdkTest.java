package warden.cli;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import com.azure.core.http.HttpClient;
import com.azure.core.http.jdk.httpclient.JdkHttpClientBuilder;
import com.azure.core.http.policy.FixedDelayOptions;
import com.azure.core.http.policy.RetryOptions;
import com.azure.core.util.BinaryData;
import com.azure.identity.ClientSecretCredentialBuilder;
import com.azure.storage.blob.BlobClient;
import com.azure.storage.blob.BlobServiceClient;
import com.azure.storage.blob.BlobServiceClientBuilder;
import com.azure.storage.blob.models.BlobHttpHeaders;
import com.azure.storage.blob.models.BlobItem;
import com.azure.storage.blob.models.BlobStorageException;
import com.azure.storage.blob.models.UserDelegationKey;
import com.azure.storage.blob.sas.BlobContainerSasPermission;
import com.azure.storage.blob.sas.BlobSasPermission;
import com.azure.storage.blob.sas.BlobServiceSasSignatureValues;
import com.azure.storage.common.StorageSharedKeyCredential;
import com.azure.storage.common.sas.AccountSasPermission;
import com.azure.storage.common.sas.AccountSasResourceType;
import com.azure.storage.common.sas.AccountSasService;
import com.azure.storage.common.sas.AccountSasSignatureValues;
import com.azure.storage.common.sas.SasProtocol;
import java.io.IOException;
import java.security.GeneralSecurityException;
import java.time.Duration;
import java.time.OffsetDateTime;
import java.util.Map;
import org.junit.jupiter.api.Test;
import warden.standin.azure.AzureStandIn;

/** The second provider's official client for Java against the simulated subscription: by token, by key and by every kind of signed URL. */
class AzureSdkTest extends QuaysideStandIn {
    private static final String PUBLISHER = "22222222-3333-4444-8555-666666666666";
    private static final String CONTRIBUTOR = "11111111-2222-4333-8444-555555555555";

    private static HttpClient http(AzureStandIn standIn) throws IOException, GeneralSecurityException {
        return new JdkHttpClientBuilder(java.net.http.HttpClient.newBuilder().sslContext(Trust.in(standIn.authority())))
                .build();
    }

    private static BlobServiceClientBuilder builder(AzureStandIn standIn, String account)
            throws IOException, GeneralSecurityException {
        return new BlobServiceClientBuilder()
                .endpoint(standIn.endpoint() + "/" + account)
                .httpClient(http(standIn))
                .retryOptions(new RetryOptions(new FixedDelayOptions(0, Duration.ofMillis(1))));
    }

    private static StorageSharedKeyCredential key(AzureStandIn standIn, String account) {
        return new StorageSharedKeyCredential(account, standIn.accountKey(account));
    }

    /** Returns a blob as whoever holds the account's key sees it. */
    static BlobClient blob(AzureStandIn standIn, String account, String container, String name)
            throws IOException, GeneralSecurityException {
        return builder(standIn, account)
                .credential(key(standIn, account))
                .buildClient()
                .getBlobContainerClient(container)
                .getBlobClient(name);
    }

    private BlobServiceClient byToken(String account) throws IOException, GeneralSecurityException {
        return byToken(account, PUBLISHER);
    }

    private BlobServiceClient byToken(String account, String clientId) throws IOException, GeneralSecurityException {
        return builder(standIn, account)
                .credential(new ClientSecretCredentialBuilder()
                        .authorityHost(standIn.endpoint())
                        .disableInstanceDiscovery()
                        .tenantId("heron-sound")
                        .clientId(clientId)
                        .clientSecret("any")
                        .httpClient(http(standIn))
                        .build())
                .buildClient();
    }

    private static void assertRefused(Runnable call, int status, String code) {
        assertThatThrownBy(call::run).isInstanceOfSatisfying(BlobStorageException.class, refused -> {
            assertThat(refused.getStatusCode()).isEqualTo(status);
            assertThat(String.valueOf(refused.getErrorCode())).isEqualTo(code);
        });
    }

    @Test
    void aSiteIsDeployedByToken() throws Exception {
        var web = byToken("harbourmenu").getBlobContainerClient("$web");
        BlobClient page = web.getBlobClient("isles/Skerry ø.html");
        page.upload(BinaryData.fromString("<title>Skerry</title>"));
        page.setHttpHeaders(new BlobHttpHeaders().setContentType("text/html").setCacheControl("max-age=300"));
        page.setMetadata(Map.of("release", "42"));
        assertThat(page.downloadContent().toString()).isEqualTo("<title>Skerry</title>");
        assertThat(page.getProperties().getContentType()).isEqualTo("text/html");
        assertThat(page.getProperties().getCacheControl()).isEqualTo("max-age=300");
        assertThat(page.getProperties().getMetadata()).containsEntry("release", "42");
        assertThat(web.listBlobs().stream().map(BlobItem::getName)).contains("index.html", "isles/Skerry ø.html");
        assertThat(web.listBlobsByHierarchy("").stream().map(BlobItem::getName)).contains("index.html", "isles/");
        BlobClient copy = web.getBlobClient("copy.html");
        copy.copyFromUrl(page.getBlobUrl());
        assertThat(copy.downloadContent().toString()).isEqualTo("<title>Skerry</title>");
        page.delete();
        assertThat(page.exists()).isFalse();
        assertRefused(
                () -> web.getBlobClient("copy.html").upload(BinaryData.fromString("x")), 409, "BlobAlreadyExists");
    }

    @Test
    void aTokenDoesNoMoreThanItsRoles() throws Exception {
        var elsewhere = byToken("quaysidewifi").getBlobContainerClient("$web").getBlobClient("x.html");
        assertRefused(() -> elsewhere.upload(BinaryData.fromString("x")), 403, "AuthorizationPermissionMismatch");
        assertRefused(elsewhere::downloadContent, 403, "AuthorizationPermissionMismatch");
    }

    @Test
    void aKeyDoesEverythingWithBlobs() throws Exception {
        BlobClient large = blob(standIn, "quaysidewifi", "exports", "large & 100%.bin");
        byte[] content = new byte[9_000_000];
        new java.util.Random(5).nextBytes(content);
        large.uploadWithResponse(
                new com.azure.storage.blob.options.BlobParallelUploadOptions(BinaryData.fromBytes(content))
                        .setParallelTransferOptions(new com.azure.storage.blob.models.ParallelTransferOptions()
                                .setBlockSizeLong(4_000_000L)
                                .setMaxSingleUploadSizeLong(4_000_000L)),
                null,
                com.azure.core.util.Context.NONE);
        assertThat(large.downloadContent().toBytes()).isEqualTo(content);
        BlobServiceClient wrong = builder(standIn, "quaysidewifi")
                .credential(new StorageSharedKeyCredential("quaysidewifi", standIn.accountKey("harbourmenu")))
                .buildClient();
        assertRefused(
                () -> wrong.getBlobContainerClient("exports").listBlobs().stream()
                        .count(),
                403,
                "AuthenticationFailed");
    }

    @Test
    void aKeyIsRefusedWhereTheAccountTakesNone() throws Exception {
        assertRefused(
                () -> {
                    try {
                        blob(standIn, "harbourmenu", "$web", "index.html").downloadContent();
                    } catch (IOException | GeneralSecurityException failed) {
                        throw new IllegalStateException(failed);
                    }
                },
                403,
                "KeyBasedAuthenticationNotPermitted");
    }

    private BlobClient bySignature(String signature, String container, String name)
            throws IOException, GeneralSecurityException {
        return builder(standIn, "quaysidewifi")
                .sasToken(signature)
                .buildClient()
                .getBlobContainerClient(container)
                .getBlobClient(name);
    }

    @Test
    void aSignedUrlOfABlobIsForThatBlobAlone() throws Exception {
        BlobClient mine = blob(standIn, "quaysidewifi", "exports", "one.txt");
        mine.upload(BinaryData.fromString("one"));
        blob(standIn, "quaysidewifi", "exports", "two.txt").upload(BinaryData.fromString("two"));
        String read = mine.generateSas(new BlobServiceSasSignatureValues(
                OffsetDateTime.now().plusHours(1), new BlobSasPermission().setReadPermission(true)));
        assertThat(bySignature(read, "exports", "one.txt").downloadContent().toString())
                .isEqualTo("one");
        BlobClient other = bySignature(read, "exports", "two.txt");
        assertRefused(other::downloadContent, 403, "AuthenticationFailed");
        BlobClient same = bySignature(read, "exports", "one.txt");
        assertRefused(same::delete, 403, "AuthorizationPermissionMismatch");
        String over = mine.generateSas(new BlobServiceSasSignatureValues(
                OffsetDateTime.now().minusHours(1), new BlobSasPermission().setReadPermission(true)));
        BlobClient late = bySignature(over, "exports", "one.txt");
        assertRefused(late::downloadContent, 403, "AuthenticationFailed");
    }

    @Test
    void aSignedUrlOfAContainerIsForItsBlobs() throws Exception {
        var container = builder(standIn, "quaysidewifi")
                .credential(key(standIn, "quaysidewifi"))
                .buildClient()
                .getBlobContainerClient("$web");
        String writes = container.generateSas(new BlobServiceSasSignatureValues(
                        OffsetDateTime.now().plusHours(1),
                        new BlobContainerSasPermission()
                                .setWritePermission(true)
                                .setListPermission(true))
                .setProtocol(SasProtocol.HTTPS_ONLY));
        bySignature(writes, "$web", "new.html").upload(BinaryData.fromString("new"));
        assertThat(bySignature(writes, "$web", "x").getContainerClient().listBlobs().stream()
                        .map(BlobItem::getName))
                .contains("new.html");
        BlobClient reads = bySignature(writes, "$web", "new.html");
        assertRefused(reads::downloadContent, 403, "AuthorizationPermissionMismatch");
        BlobClient elsewhere = bySignature(writes, "exports", "new.html");
        assertRefused(() -> elsewhere.upload(BinaryData.fromString("x")), 403, "AuthenticationFailed");
        java.net.http.HttpResponse<String> plain = java.net.http.HttpClient.newHttpClient()
                .send(
                        java.net.http.HttpRequest.newBuilder(java.net.URI.create("http://localhost:"
                                        + standIn.plainPort() + "/quaysidewifi/$web?restype=container&comp=list&"
                                        + writes))
                                .build(),
                        java.net.http.HttpResponse.BodyHandlers.ofString());
        assertThat(plain.body()).contains("<Code>AccountRequiresHttps</Code>");
    }

    @Test
    void aSignedUrlOfAnAccountIsForWhatItNames() throws Exception {
        BlobServiceClient service = builder(standIn, "quaysidewifi")
                .credential(key(standIn, "quaysidewifi"))
                .buildClient();
        String objects = service.generateAccountSas(new AccountSasSignatureValues(
                OffsetDateTime.now().plusHours(1),
                new AccountSasPermission().setReadPermission(true).setListPermission(true),
                new AccountSasService().setBlobAccess(true),
                new AccountSasResourceType().setObject(true)));
        assertThat(bySignature(objects, "$web", "index.html").downloadContent().toString())
                .startsWith("made up");
        var container = bySignature(objects, "$web", "x").getContainerClient();
        assertRefused(() -> container.listBlobs().stream().count(), 403, "AuthorizationResourceTypeMismatch");
        String files = service.generateAccountSas(new AccountSasSignatureValues(
                OffsetDateTime.now().plusHours(1),
                new AccountSasPermission().setReadPermission(true),
                new AccountSasService().setFileAccess(true),
                new AccountSasResourceType().setObject(true)));
        BlobClient blob = bySignature(files, "$web", "index.html");
        assertRefused(blob::downloadContent, 403, "AuthorizationServiceMismatch");
    }

    @Test
    void aUrlSignedByAPrincipalHoldsByItsRights() throws Exception {
        BlobServiceClient contributor = byToken("quaysidewifi", CONTRIBUTOR);
        UserDelegationKey key =
                contributor.getUserDelegationKey(null, OffsetDateTime.now().plusHours(1));
        String read = contributor
                .getBlobContainerClient("$web")
                .getBlobClient("index.html")
                .generateUserDelegationSas(
                        new BlobServiceSasSignatureValues(
                                OffsetDateTime.now().plusMinutes(30), new BlobSasPermission().setReadPermission(true)),
                        key);
        assertThat(read).contains("skoid=77f2b1a4-0d52-4b0e-9a31-5f0c2f6a9e01");
        assertThat(bySignature(read, "$web", "index.html").downloadContent().toString())
                .startsWith("made up");
        BlobClient same = bySignature(read, "$web", "index.html");
        assertRefused(same::delete, 403, "AuthorizationPermissionMismatch");
        BlobClient other = bySignature(read, "$web", "404.html");
        assertRefused(other::downloadContent, 403, "AuthenticationFailed");
        // Whoever signs in another's name has not that one's key.
        String forged = read.replace("77f2b1a4-0d52-4b0e-9a31-5f0c2f6a9e01", "b3d1c0aa-4e2f-4b8a-9c55-1f7d2e3a4b5c");
        BlobClient asAnother = bySignature(forged, "$web", "index.html");
        assertRefused(asAnother::downloadContent, 403, "AuthenticationFailed");
        BlobServiceClient publisher = byToken("harbourmenu");
        assertRefused(
                () -> publisher.getUserDelegationKey(null, OffsetDateTime.now().plusHours(1)),
                403,
                "AuthorizationPermissionMismatch");
    }
}
