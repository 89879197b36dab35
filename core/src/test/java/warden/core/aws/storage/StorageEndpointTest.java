package warden.core.aws.storage;

import static org.assertj.core.api.Assertions.assertThat;

import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;
import org.junit.jupiter.params.provider.ValueSource;

/** Source: AWS General Reference, "Amazon Simple Storage Service endpoints"; S3 User Guide, "Website endpoints". */
class StorageEndpointTest {
    @ParameterizedTest
    @CsvSource({
        "b.s3.amazonaws.com, b, , false",
        "b.s3.eu-west-1.amazonaws.com, b, eu-west-1, false",
        "b.s3-eu-west-1.amazonaws.com, b, eu-west-1, false",
        "b.s3.dualstack.eu-west-1.amazonaws.com, b, eu-west-1, false",
        "b.s3-fips.us-east-1.amazonaws.com, b, us-east-1, false",
        "b.s3-fips.dualstack.us-east-1.amazonaws.com, b, us-east-1, false",
        "www.heronferry.example.s3.us-gov-west-1.amazonaws.com, www.heronferry.example, us-gov-west-1, false",
        "b.s3.cn-north-1.amazonaws.com.cn, b, cn-north-1, false",
        "B.S3.EU-WEST-1.AMAZONAWS.COM., b, eu-west-1, false",
        "s3.amazonaws.com, , , false",
        "s3.eu-west-1.amazonaws.com, , eu-west-1, false",
        "b.s3-website-eu-west-1.amazonaws.com, b, eu-west-1, true",
        "b.s3-website.eu-central-1.amazonaws.com, b, eu-central-1, true",
        "s3-website-eu-west-1.amazonaws.com, , eu-west-1, true",
        "b.s3-accelerate.amazonaws.com, b, , false",
        "b.s3-accelerate.dualstack.amazonaws.com, b, , false"
    })
    void knowsAllFormsOfTheProvidersNames(String host, String bucket, String region, boolean website) {
        assertThat(StorageEndpoint.parse(host)).get().satisfies(endpoint -> {
            assertThat(endpoint.bucket().orElse(null)).isEqualTo(bucket);
            assertThat(endpoint.region().orElse(null)).isEqualTo(region);
            assertThat(endpoint.isWebsite()).isEqualTo(website);
        });
    }

    @ParameterizedTest
    @ValueSource(
            strings = {
                "",
                ".",
                "amazonaws.com",
                "b.s3.amazonaws.com.evil.example",
                "bs3.amazonaws.com.example",
                "d1.cloudfront.net",
                "b.ec2.eu-west-1.amazonaws.com",
                "s3-accelerate.amazonaws.com",
                "www.heronferry.example",
                "b.s3.eu-west-1.amazonaws.org"
            })
    void takesNoOtherHostForOne(String host) {
        assertThat(StorageEndpoint.parse(host)).isEmpty();
    }
}
