import { useQuery } from "@tanstack/react-query";
import { api, dataOf } from "../api/client";

/** Who this device is to the server; a guest only watches the brew. */
export function useThisDevice() {
  return useQuery({
    queryKey: ["this-device"],
    staleTime: Infinity,
    retry: false,
    queryFn: async () => dataOf(await api.GET("/api/devices/current")),
  });
}
