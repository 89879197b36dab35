/** A tool of the build: rewrites compiled classes so that the JVM has less to make when the program starts. */
package warden.lambdas;
