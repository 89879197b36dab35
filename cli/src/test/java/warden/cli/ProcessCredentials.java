package warden.cli;

import java.util.List;
import warden.standin.aws.StandIn;

/** What the provider's library takes for the credentials of this process: a principal's of a simulated account. Tests that set it run alone. */
final class ProcessCredentials {
    private ProcessCredentials() {}

    /** Has this process work as a principal, by its ARN. */
    static void as(String arn) {
        asKey(StandIn.keyOf(arn));
    }

    /** The same, by an access key id. */
    static void asKey(String key) {
        System.setProperty("aws.accessKeyId", key);
        System.setProperty("aws.secretAccessKey", "any");
        System.setProperty("aws.region", "eu-west-1");
        System.setProperty("aws.ec2MetadataDisabled", "true");
    }

    static void forget() {
        for (String name : List.of("aws.region", "aws.accessKeyId", "aws.secretAccessKey", "aws.ec2MetadataDisabled")) {
            System.clearProperty(name);
        }
    }
}
