import { useQuery } from "@tanstack/react-query";
import { api, dataOf } from "./client";

export function useCoffees() {
  return useQuery({ queryKey: ["coffees"], queryFn: async () => dataOf(await api.GET("/api/coffees")).coffees });
}
