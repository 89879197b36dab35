package warden.gather.live;

import static org.assertj.core.api.Assertions.assertThat;

import java.lang.reflect.Method;
import java.util.Arrays;
import java.util.Locale;
import java.util.Map;
import java.util.Set;
import java.util.TreeSet;
import java.util.stream.Collectors;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.MethodSource;
import software.amazon.awssdk.services.acm.AcmClient;
import software.amazon.awssdk.services.amplify.AmplifyClient;
import software.amazon.awssdk.services.cloudfront.CloudFrontClient;
import software.amazon.awssdk.services.codepipeline.CodePipelineClient;
import software.amazon.awssdk.services.iam.IamClient;
import software.amazon.awssdk.services.kms.KmsClient;
import software.amazon.awssdk.services.lambda.LambdaClient;
import software.amazon.awssdk.services.route53.Route53Client;
import software.amazon.awssdk.services.route53domains.Route53DomainsClient;
import software.amazon.awssdk.services.s3.S3Client;
import software.amazon.awssdk.services.sts.StsClient;
import warden.core.aws.catalogue.ActionCatalogue;

/**
 * Holds the catalogue of actions against the operations that the provider's own client knows. Where actions are not operations, the
 * differences are listed here with their reason, so that a new operation stops the build until the catalogue has its action.
 */
class CatalogueAgainstClientsTest {
    /**
     * @param permissionOnly actions that no operation of this client bears the name of: asked by other services, or newer than the client
     * @param askedOtherwise operations whose action has another name
     */
    record Service(String prefix, Class<?> client, Set<String> permissionOnly, Set<String> askedOtherwise) {}

    static Service[] services() {
        return new Service[] {
            new Service("acm", AcmClient.class, Set.of("SearchCertificates"), Set.of()),
            new Service("amplify", AmplifyClient.class, Set.of(), Set.of()),
            new Service(
                    "cloudfront",
                    CloudFrontClient.class,
                    Set.of(
                            "AllowVendedLogDeliveryForResource",
                            "CreateSavingsPlan",
                            "DescribeSavingsPlans",
                            "GetSavingsPlan",
                            "ListRateCards",
                            "ListSavingsPlans",
                            "ListUsages",
                            "UpdateSavingsPlan"),
                    Set.of()),
            new Service("codepipeline", CodePipelineClient.class, Set.of(), Set.of()),
            new Service(
                    "iam",
                    IamClient.class,
                    Set.of(
                            "DeleteCloudFrontPublicKey",
                            "FetchAccessKeyUsage",
                            "GetCloudFrontPublicKey",
                            "GetSecurityTokenServicePreferences",
                            "ListCloudFrontPublicKeys",
                            "ListSTSRegionalEndpointsStatus",
                            "PassRole",
                            "SetSTSRegionalEndpointStatus",
                            "UpdateCloudFrontPublicKey",
                            "UploadCloudFrontPublicKey"),
                    Set.of()),
            new Service("kms", KmsClient.class, Set.of("GetKeyLastUsage", "SynchronizeMultiRegionKey"), Set.of()),
            new Service(
                    "lambda",
                    LambdaClient.class,
                    Set.of(
                            "InvokeFunction",
                            "InvokeAsync",
                            "InvokeFunctionUrl",
                            "EnableReplication",
                            "DisableReplication"),
                    Set.of("Invoke", "GetLayerVersionByArn")),
            new Service("route53", Route53Client.class, Set.of(), Set.of()),
            new Service("route53domains", Route53DomainsClient.class, Set.of(), Set.of()),
            new Service(
                    "sts",
                    StsClient.class,
                    Set.of(
                            "GetServiceBearerToken",
                            "SetContext",
                            "SetSourceIdentity",
                            "TagGetFederationToken",
                            "TagSession"),
                    Set.of()),
        };
    }

    @ParameterizedTest
    @MethodSource("services")
    void hasEveryOperationAndNothingElse(Service service) {
        Set<String> expected = operations(service.client());
        expected.removeAll(lower(service.askedOtherwise()));
        expected.addAll(lower(service.permissionOnly()));
        assertThat(actions(service.prefix())).isEqualTo(expected);
    }

    /** The storage service's operations take actions of other names; the table follows its reference, "Required permissions". */
    private static final Map<String, String> STORAGE = Map.ofEntries(
            Map.entry("listobjects", "listbucket"),
            Map.entry("listobjectsv2", "listbucket"),
            Map.entry("listobjectversions", "listbucketversions"),
            Map.entry("headobject", "getobject"),
            Map.entry("headbucket", "listbucket"),
            Map.entry("listbuckets", "listallmybuckets"),
            Map.entry("copyobject", "putobject"),
            Map.entry("deleteobjects", "deleteobject"),
            Map.entry("createmultipartupload", "putobject"),
            Map.entry("completemultipartupload", "putobject"),
            Map.entry("uploadpart", "putobject"),
            Map.entry("listparts", "listmultipartuploadparts"),
            Map.entry("listmultipartuploads", "listbucketmultipartuploads"),
            Map.entry("getbucketcors", "getbucketcors"),
            Map.entry("deletebucketcors", "putbucketcors"),
            Map.entry("getbucketencryption", "getencryptionconfiguration"),
            Map.entry("putbucketencryption", "putencryptionconfiguration"),
            Map.entry("deletebucketencryption", "putencryptionconfiguration"),
            Map.entry("getbucketlifecycleconfiguration", "getlifecycleconfiguration"),
            Map.entry("putbucketlifecycleconfiguration", "putlifecycleconfiguration"),
            Map.entry("deletebucketlifecycle", "putlifecycleconfiguration"),
            Map.entry("getbucketreplication", "getreplicationconfiguration"),
            Map.entry("putbucketreplication", "putreplicationconfiguration"),
            Map.entry("deletebucketreplication", "putreplicationconfiguration"),
            Map.entry("getpublicaccessblock", "getbucketpublicaccessblock"),
            Map.entry("putpublicaccessblock", "putbucketpublicaccessblock"),
            Map.entry("deletepublicaccessblock", "putbucketpublicaccessblock"),
            Map.entry("putobjectacl", "putobjectacl"),
            Map.entry("createbucket", "createbucket"),
            Map.entry("deletebucketpolicy", "deletebucketpolicy"),
            Map.entry("deletebucketwebsite", "deletebucketwebsite"));

    @Test
    void hasTheActionOfEachStorageOperationThatTheWorkTouches() {
        assertThat(operations(S3Client.class)).containsAll(STORAGE.keySet());
        assertThat(actions("s3")).containsAll(STORAGE.values());
    }

    private static Set<String> actions(String prefix) {
        return ActionCatalogue.shipped().ofService(prefix).stream()
                .map(action -> action.lowerCaseName().substring(prefix.length() + 1))
                .collect(Collectors.toCollection(TreeSet::new));
    }

    private static Set<String> operations(Class<?> client) {
        return Arrays.stream(client.getMethods())
                .filter(method -> method.getParameterCount() >= 1)
                .map(CatalogueAgainstClientsTest::request)
                .filter(name -> name.endsWith("Request"))
                .map(name -> name.substring(0, name.length() - "Request".length()))
                .map(name -> name.toLowerCase(Locale.ROOT))
                .collect(Collectors.toCollection(TreeSet::new));
    }

    private static String request(Method method) {
        return method.getParameterTypes()[0].getSimpleName();
    }

    private static Set<String> lower(Set<String> names) {
        return names.stream().map(name -> name.toLowerCase(Locale.ROOT)).collect(Collectors.toSet());
    }
}
