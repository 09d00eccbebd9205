import { QueryClient, QueryClientProvider } from "@tanstack/react-query";
import { StrictMode } from "react";
import { createRoot } from "react-dom/client";
import { createBrowserRouter, RouterProvider } from "react-router";
import { HelpLine } from "./marks/HelpLine";
import { enterLast } from "./bench/room";
import { BenchScreen } from "./screens/BenchScreen";
import { ContactSheet } from "./screens/ContactSheet";
import { Projects } from "./screens/Projects";
import { Waiting } from "./screens/Waiting";
import "./styles/main.css";

enterLast();

const router = createBrowserRouter([
  { path: "/", element: <Projects /> },
  { path: "/projects/:project", element: <ContactSheet /> },
  { path: "/projects/:project/shots/:shot", element: <BenchScreen /> },
  { path: "*", element: <Waiting error={new Error("There is nothing at this address.")} /> },
]);
const client = new QueryClient({ defaultOptions: { queries: { retry: 1, staleTime: 0 } } });

const root = document.getElementById("root");
if (root) {
  createRoot(root).render(
    <StrictMode>
      <QueryClientProvider client={client}>
        <RouterProvider router={router} />
        <HelpLine />
      </QueryClientProvider>
    </StrictMode>,
  );
}
