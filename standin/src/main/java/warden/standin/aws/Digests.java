package warden.standin.aws;

import java.security.MessageDigest;
import java.security.NoSuchAlgorithmException;
import java.util.HexFormat;

/** Digests that every Java knows. */
final class Digests {
    private Digests() {}

    static byte[] of(String algorithm, byte[] content) {
        try {
            return MessageDigest.getInstance(algorithm).digest(content);
        } catch (NoSuchAlgorithmException impossible) {
            throw new IllegalStateException(impossible);
        }
    }

    /** Returns an object's entity tag: the digest of its content, in quotation marks. */
    static String tag(byte[] content) {
        return "\"" + HexFormat.of().formatHex(of("MD5", content)) + "\"";
    }
}
